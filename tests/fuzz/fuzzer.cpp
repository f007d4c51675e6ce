// SPDX-License-Identifier: GPL-3.0-or-later
// One fuzzer: what clang's driver calls. MARRAM_FUZZ_TARGET says at which reader the bytes are thrown.
#include "fuzz/targets.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    marram::fuzz::MARRAM_FUZZ_TARGET(
        QByteArray(reinterpret_cast<const char*>(data), static_cast<qsizetype>(size)));
    return 0;
}
