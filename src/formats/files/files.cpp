// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/files/files.h"
#include "core/words/phrase.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <sys/stat.h>
#include <unistd.h>

namespace marram {
namespace {

tl::unexpected<Problem> cannot(const QString& path, const char* what, int error) {
    if (error == ENOSPC || error == EDQUOT)
        return refuse(phrase("%1: %2, because the disk is full; free some space", path.toStdString(), what));
    return refuse(phrase("%1: %2 (%3)", path.toStdString(), what, std::strerror(error)));
}

/// A file descriptor that closes itself.
class Descriptor {
public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() { close(); }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    int get() const { return fd_; }
    bool close() {
        const bool ok = fd_ < 0 || ::close(fd_) == 0;
        fd_ = -1;
        return ok;
    }

private:
    int fd_;
};

} // namespace

namespace {
/// What is being made lies beside under this name with the number of the process that makes it.
QByteArray asideIn(const QByteArray& folder) {
    return folder + "/.marram-" + QByteArray::number(::getpid()) + "-XXXXXX";
}
} // namespace

void sweepAside(const QString& folder) {
    namespace fs = std::filesystem;
    std::error_code error;
    fs::directory_iterator it(fs::path(QFile::encodeName(folder).toStdString()), error);
    for (; !error && it != fs::directory_iterator(); it.increment(error)) {
        const std::string name = it->path().filename().string();
        constexpr std::string_view mark = ".marram-";
        if (!name.starts_with(mark))
            continue;
        char* end = nullptr;
        const long process = std::strtol(name.c_str() + mark.size(), &end, 10);
        // Whoever makes it may still be at it.
        if (process <= 0 || *end != '-' || std::strlen(end) != 7 ||
            ::kill(static_cast<pid_t>(process), 0) == 0 || errno != ESRCH)
            continue;
        std::error_code gone;
        fs::remove_all(it->path(), gone);
    }
}

static Result<void> ordinary(const QString& path, mode_t mode) {
    if (S_ISDIR(mode))
        return refuse(phrase("%1: is a folder; name a file", path.toStdString()));
    if (!S_ISREG(mode))
        return refuse(phrase("%1: is a pipe or a device; name an ordinary file", path.toStdString()));
    return {};
}

Result<QByteArray> readWholeFile(const QString& path, qint64 largest) {
    const QByteArray name = QFile::encodeName(path);
    // Without waiting: opening a pipe nobody writes to would never return.
    const Descriptor file(::open(name.constData(), O_RDONLY | O_NONBLOCK | O_CLOEXEC | O_NOCTTY));
    if (file.get() < 0 && errno == ENOENT)
        return refuse(phrase("%1: does not exist", path.toStdString()));
    if (file.get() < 0)
        return cannot(path, "can't be read", errno);
    struct stat info {};
    if (::fstat(file.get(), &info) != 0)
        return cannot(path, "can't be read", errno);
    if (auto ok = ordinary(path, info.st_mode); !ok)
        return tl::unexpected(ok.error());
    const auto tooLarge = [&] {
        return refuse(phrase("%1: is larger than %2 MB and was not read", path.toStdString(),
                             std::to_string(largest / 1024 / 1024)));
    };
    if (info.st_size > largest)
        return tooLarge();
    QByteArray bytes(static_cast<qsizetype>(info.st_size), Qt::Uninitialized);
    qsizetype have = 0;
    for (;;) {
        if (have == bytes.size())
            bytes.resize(have + (have == info.st_size ? 1 : 1 << 20)); // one more, to see the end
        const auto got = ::read(file.get(), bytes.data() + have, static_cast<size_t>(bytes.size() - have));
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return cannot(path, "can't be read", errno);
        if (got == 0)
            break;
        have += got;
        if (have > largest)
            return tooLarge();
    }
    bytes.resize(have);
    return bytes;
}

Result<void> writeWholeFile(const QString& path, const QByteArray& bytes) {
    const QByteArray name = QFile::encodeName(path);
    struct stat there {};
    if (::lstat(name.constData(), &there) == 0 && !S_ISREG(there.st_mode) && !S_ISLNK(there.st_mode))
        return refuse(phrase("%1: is no ordinary file, so it can't be replaced; choose another name",
                             path.toStdString()));
    const QByteArray parent = QFile::encodeName(QFileInfo(path).absolutePath());
    sweepAside(QFileInfo(path).absolutePath());
    QByteArray aside = asideIn(parent);
    Descriptor file(::mkostemp(aside.data(), O_CLOEXEC)); // made with mode 0600
    if (file.get() < 0)
        return cannot(path, "can't be written", errno);
    const auto fail = [&](int error) {
        ::unlink(aside.constData());
        return cannot(path, "can't be written", error);
    };
    for (qsizetype done = 0; done < bytes.size();) {
        const auto put =
            ::write(file.get(), bytes.constData() + done, static_cast<size_t>(bytes.size() - done));
        if (put < 0 && errno != EINTR)
            return fail(errno);
        done += std::max<qsizetype>(put, 0);
    }
    if (::fsync(file.get()) != 0 || !file.close() || ::rename(aside.constData(), name.constData()) != 0)
        return fail(errno);
    return {};
}

Result<void> makeFolder(const QString& path) {
    const QFileInfo info(path);
    if (info.isDir())
        return {};
    const QString parent = QFileInfo(QDir::cleanPath(info.absoluteFilePath())).absolutePath();
    if (parent != info.absoluteFilePath())
        if (auto ok = makeFolder(parent); !ok)
            return ok;
    if (::mkdir(QFile::encodeName(QDir::cleanPath(path)).constData(), 0700) != 0 && errno != EEXIST)
        return cannot(path, "the folder can't be made", errno);
    return QFileInfo(path).isDir() ? Result<void>{} : refuse(phrase("%1: is no folder", path.toStdString()));
}

Result<void> makeFolderInside(const QString& parent, const QString& name) {
    const QString path = QDir(parent).filePath(name);
    if (QFileInfo(path).isSymLink())
        return refuse(
            phrase("%1: is a link, and links are not followed here; remove it", path.toStdString()));
    return makeFolder(path);
}

Result<void> makeAside(const QString& path, const std::function<Result<void>(const QString& aside)>& make) {
    const QByteArray name = QFile::encodeName(path);
    struct stat there {};
    if (::lstat(name.constData(), &there) == 0)
        return refuse(phrase("%1: exists already; choose another name", path.toStdString()));
    const QString parent = QFileInfo(path).absolutePath();
    if (!QFileInfo(parent).isDir())
        return refuse(phrase("%1: its folder does not exist", path.toStdString()));
    // In a folder of its own, so that whatever comes beside it goes with it.
    sweepAside(parent);
    QByteArray folder = asideIn(QFile::encodeName(parent));
    if (!::mkdtemp(folder.data()))
        return cannot(path, "can't be written", errno);
    const QByteArray aside = folder + "/made";
    auto ok = make(QFile::decodeName(aside));
    // Unlike a rename, a link never replaces what somebody else put there meanwhile.
    if (ok && ::link(aside.constData(), name.constData()) != 0) {
        if (errno == EEXIST)
            ok = refuse(phrase("%1: exists already; choose another name", path.toStdString()));
        else if (::rename(aside.constData(), name.constData()) != 0)
            ok = cannot(path, "can't be written", errno);
    }
    QDir(QFile::decodeName(folder)).removeRecursively();
    return ok;
}

Result<QString> fileNameFrom(const std::string& bytes) {
    const QByteArray name = QByteArray::fromStdString(bytes);
    if (name.isValidUtf8())
        return QString::fromUtf8(name);
    return refuse(phrase("%1: this name is not in UTF-8, so it can't be kept; rename the file",
                         QString::fromUtf8(name).toStdString()));
}

FoundFiles filesBelow(const QString& folder, const QStringList& endings) {
    namespace fs = std::filesystem;
    constexpr qsizetype most = 20000;
    FoundFiles found;
    std::error_code error;
    fs::recursive_directory_iterator it(fs::path(QFile::encodeName(folder).toStdString()),
                                        fs::directory_options::skip_permission_denied, error);
    for (; !error && it != fs::recursive_directory_iterator(); it.increment(error)) {
        const std::string path = it->path().string();
        // Of "ride.fit.gz" both endings count.
        fs::path bare = it->path();
        std::string ending = bare.extension().string();
        if (ending == ".gz" || ending == ".GZ")
            ending.insert(0, bare.replace_extension().extension().string());
        std::transform(ending.begin(), ending.end(), ending.begin(),
                       [](unsigned char c) { return std::tolower(c); });
        std::error_code gone;
        if (!endings.contains(QString::fromStdString(ending)) || !it->is_regular_file(gone))
            continue;
        const auto name = fileNameFrom(path);
        if (!name) {
            found.refused << QString::fromStdString(name.error().sentence);
        } else if (found.files.size() == most) {
            found.refused << folder +
                                 QString(
                                     ": holds more than %1 recordings; bring in the rest folder by folder")
                                     .arg(most);
            break;
        } else {
            found.files << *name;
        }
    }
    if (error)
        found.refused << folder + ": can't be read through (" + QString::fromStdString(error.message()) + ")";
    found.files.sort();
    return found;
}

} // namespace marram
