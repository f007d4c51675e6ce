// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/recording/archive.h"
#include "core/words/phrase.h"

#include <QFileInfo>
#include <memory>
#include <mutex>
#include <zip.h>
#include <zlib.h>

namespace marram {
namespace {

constexpr qint64 largestArchive = 8LL * 1024 * 1024 * 1024;
constexpr int mostEntries = 20000;

bool isArchive(const QString& path) {
    return path.endsWith(".zip", Qt::CaseInsensitive);
}

struct Closing {
    void operator()(zip_t* archive) const { zip_discard(archive); }
    void operator()(zip_file_t* file) const { zip_fclose(file); }
};
using Archive = std::unique_ptr<zip_t, Closing>;

Result<Archive> openArchive(const QString& path) {
    const QFileInfo info(path);
    if (!info.isFile())
        return refuse(phrase("%1: is no ordinary file", path.toStdString()));
    if (info.size() > largestArchive)
        return refuse(phrase("%1: is larger than 8 GiB", path.toStdString()));
    int code = 0;
    Archive archive(zip_open(QFile::encodeName(path).constData(), ZIP_RDONLY, &code));
    if (archive)
        return archive;
    zip_error_t error;
    zip_error_init_with_code(&error, code);
    const std::string why = zip_error_strerror(&error);
    zip_error_fini(&error);
    return refuse(phrase("%1: is no archive that can be opened (%2); it should be a zip of recordings",
                         path.toStdString(), why));
}

/// The archive read last, open: a folder of twenty thousand files is one archive, asked for from many
/// threads.
class LastArchive {
public:
    Result<QByteArray> entry(const QString& path, const QByteArray& name, qint64 largest) {
        const std::lock_guard lock(mutex_);
        const QFileInfo info(path);
        if (!archive_ || path_ != path || changed_ != info.lastModified() || size_ != info.size()) {
            archive_.reset();
            auto opened = openArchive(path);
            if (!opened)
                return tl::unexpected(opened.error());
            archive_ = std::move(*opened);
            path_ = path;
            changed_ = info.lastModified();
            size_ = info.size();
        }
        const std::string whole = path.toStdString() + "/" + name.toStdString();
        const auto refused = [&](const std::string& why) { return refuse(phrase("%1: %2", whole, why)); };
        zip_stat_t stat;
        if (zip_stat(archive_.get(), name.constData(), ZIP_FL_ENC_GUESS, &stat) != 0)
            return refused("is not in the archive any more");
        if ((stat.valid & ZIP_STAT_SIZE) != 0 && stat.size > static_cast<zip_uint64_t>(largest))
            return refused("is larger than " + std::to_string(largest / 1024 / 1024) + " MiB");
        const std::unique_ptr<zip_file_t, Closing> file(
            zip_fopen_index(archive_.get(), stat.index, ZIP_FL_ENC_GUESS));
        if (!file)
            return refused(std::string("can't be unpacked (") + zip_strerror(archive_.get()) + ")");
        QByteArray bytes;
        QByteArray part(1 << 18, Qt::Uninitialized);
        for (;;) {
            const zip_int64_t got =
                zip_fread(file.get(), part.data(), static_cast<zip_uint64_t>(part.size()));
            if (got < 0)
                return refused("is damaged in the archive and can't be unpacked");
            if (got == 0)
                return bytes;
            if (bytes.size() + got > largest)
                return refused("is larger than " + std::to_string(largest / 1024 / 1024) + " MiB");
            bytes.append(part.constData(), static_cast<qsizetype>(got));
        }
    }

private:
    std::mutex mutex_;
    Archive archive_;
    QString path_;
    QDateTime changed_;
    qint64 size_ = 0;
};

/// The archive a path leads into, and the name inside; empty where it leads into none.
std::pair<QString, QString> insideOf(const QString& path) {
    for (qsizetype at = path.indexOf(".zip/", 0, Qt::CaseInsensitive); at >= 0;
         at = path.indexOf(".zip/", at + 1, Qt::CaseInsensitive))
        if (const QString archive = path.left(at + 4); QFileInfo(archive).isFile())
            return {archive, path.mid(at + 5)};
    return {};
}

Result<QByteArray> unpacked(const QString& path, const QByteArray& bytes, qint64 largest) {
    z_stream stream{};
    if (inflateInit2(&stream, 16 + MAX_WBITS) != Z_OK)
        return refuse(phrase("%1: can't be unpacked for want of memory", path.toStdString()));
    const std::unique_ptr<z_stream, int (*)(z_stream*)> ending(&stream, inflateEnd);
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(bytes.constData()));
    stream.avail_in = static_cast<uInt>(bytes.size());
    QByteArray out;
    QByteArray part(1 << 18, Qt::Uninitialized);
    for (;;) {
        stream.next_out = reinterpret_cast<Bytef*>(part.data());
        stream.avail_out = static_cast<uInt>(part.size());
        const int code = inflate(&stream, Z_NO_FLUSH);
        out.append(part.constData(), part.size() - static_cast<qsizetype>(stream.avail_out));
        if (out.size() > largest)
            return refuse(phrase("%1: unpacks to more than %2 MiB", path.toStdString(),
                                 std::to_string(largest / 1024 / 1024)));
        if (code == Z_STREAM_END)
            return out;
        if (code != Z_OK || (stream.avail_in == 0 && stream.avail_out > 0))
            return refuse(
                phrase("%1: ends early or is damaged, so it can't be unpacked", path.toStdString()));
    }
}

} // namespace

bool namesRecording(const QString& name) {
    const QString lower = name.toLower();
    const QString bare = lower.endsWith(".gz") ? lower.chopped(3) : lower;
    return bare.endsWith(".fit") || bare.endsWith(".gpx") || bare.endsWith(".csv");
}

FoundFiles unfolded(const QStringList& paths) {
    FoundFiles found;
    for (const QString& path : paths) {
        if (!isArchive(path)) {
            found.files << path;
            continue;
        }
        const auto archive = openArchive(path);
        if (!archive) {
            found.refused << QString::fromStdString(archive.error().sentence);
            continue;
        }
        QStringList inside;
        const zip_int64_t count = zip_get_num_entries(archive->get(), 0);
        for (zip_int64_t i = 0; i < count; ++i) {
            zip_stat_t stat;
            if (zip_stat_index(archive->get(), static_cast<zip_uint64_t>(i), ZIP_FL_ENC_GUESS, &stat) != 0 ||
                (stat.valid & ZIP_STAT_NAME) == 0)
                continue;
            const QString name = QString::fromUtf8(stat.name);
            // What another system keeps beside its files is no recording.
            if (!namesRecording(name) || name.startsWith("__MACOSX/") ||
                name.section('/', -1).startsWith('.'))
                continue;
            if ((stat.valid & ZIP_STAT_ENCRYPTION_METHOD) != 0 && stat.encryption_method != ZIP_EM_NONE) {
                found.refused << path + "/" + name + ": is encrypted; unpack the archive first";
                continue;
            }
            if (inside.size() == mostEntries) {
                found.refused << path + QString(": holds more than %1 recordings; the rest was left out")
                                            .arg(mostEntries);
                break;
            }
            inside << path + "/" + name;
        }
        if (inside.isEmpty() && found.refused.isEmpty())
            found.refused << path + ": holds no recording";
        inside.sort();
        found.files += inside;
    }
    return found;
}

Result<QByteArray> readRecordingFile(const QString& path, qint64 largest) {
    static LastArchive last;
    const auto [archive, name] = insideOf(path);
    auto bytes =
        archive.isEmpty() ? readWholeFile(path, largest) : last.entry(archive, name.toUtf8(), largest);
    if (bytes && bytes->startsWith("\x1f\x8b"))
        return unpacked(path, *bytes, largest);
    return bytes;
}

} // namespace marram
