#pragma once
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include "support/places.h"

namespace ledge::test {

/// The `ledge` program as scripts see it, in a folder of its own.
class Program {
protected:
    struct Ran {
        int code = -1;  ///< -1 when it crashed or did not end
        QString out, err;
    };
    Ran run(const QStringList& arguments, const QByteArray& input = {}) const {
        return start(kProgram, arguments, input);
    }
    /// A line of shell; the program is "$LEDGE".
    Ran shell(const QString& line) const { return start("sh", {"-c", line}, {}); }
    /// The same on a file system of its own in the folder `disk` that holds so many kilobytes, or
    /// nothing more when it is made read-only by $SEAL. Needs rights that some machines withhold.
    Ran onDisk(int kilobytes, const QString& line) const {
        QDir(m_dir.path()).mkpath("disk");
        const QString inside =
            QString(
                "mount -t tmpfs -o size=%1k ledge disk && SEAL='mount -o remount,ro disk' && %2")
                .arg(kilobytes)
                .arg(line);
        return start("unshare", {"-rm", "sh", "-c", inside}, {});
    }
    bool hasDisks() const { return onDisk(64, "true").code == 0; }

    QString path(const QString& name) const { return m_dir.path() + "/" + name; }
    QByteArray bytesOf(const QString& name) const {
        QFile file(path(name));
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    }
    void writeFile(const QString& name, const QByteArray& bytes) const {
        QFile file(path(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
        QCOMPARE(file.write(bytes), qint64(bytes.size()));
    }
    /// Names and contents of all files in a folder, hidden ones too.
    std::map<QString, QByteArray> filesIn(const QString& folder) const {
        std::map<QString, QByteArray> out;
        for (const QString& name :
             QDir(path(folder)).entryList(QDir::Files | QDir::Hidden | QDir::System))
            out[name] = bytesOf(folder + "/" + name);
        return out;
    }

    QTemporaryDir m_dir;

private:
    Ran start(const QString& program, const QStringList& arguments, const QByteArray& input) const {
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        auto environment = QProcessEnvironment::systemEnvironment();
        environment.insert("LEDGE", kProgram);
        process.setProcessEnvironment(environment);
        process.start(program, arguments);
        process.write(input);
        process.closeWriteChannel();
        if (!process.waitForFinished(120000)) return {-1, {}, "did not end"};
        return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
                QString::fromUtf8(process.readAllStandardOutput()),
                QString::fromUtf8(process.readAllStandardError())};
    }
};

}  // namespace ledge::test
