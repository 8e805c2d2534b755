#include <QTest>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>

#include "fuzz/targets.h"
#include "support/places.h"

using namespace ledge;
namespace fs = std::filesystem;

/// What fuzzers met before, and thousands of small changes to it: nothing crashes.
class FuzzTest : public QObject {
    Q_OBJECT

private:
    static std::vector<std::vector<std::byte>> corpusOf(const fuzz::Target& target) {
        std::vector<std::vector<std::byte>> out;
        std::error_code code;
        for (const auto& file : fs::directory_iterator(
                 fs::path(test::kSourceFolder) / "fuzz/corpus" / target.name, code)) {
            std::ifstream in(file.path(), std::ios::binary);
            const std::string bytes{std::istreambuf_iterator<char>(in), {}};
            const auto view = std::as_bytes(std::span(bytes));
            out.emplace_back(view.begin(), view.end());
        }
        return out;
    }
    static void rows() {
        QTest::addColumn<QString>("name");
        for (const fuzz::Target& target : fuzz::targets())
            QTest::newRow(target.name.c_str()) << QString::fromStdString(target.name);
    }

private slots:
    void replaysTheCorpus_data() { rows(); }
    void replaysTheCorpus() {
        QFETCH(QString, name);
        const fuzz::Target& target = *fuzz::targetNamed(name.toStdString());
        const auto corpus = corpusOf(target);
        QVERIFY2(!corpus.empty(), "scripts/fuzz --seeds makes one");
        for (const auto& input : corpus) target.run(target, input);
        target.run(target, {});
    }

    void standsSmallChanges_data() { rows(); }
    void standsSmallChanges() {
        QFETCH(QString, name);
        const fuzz::Target& target = *fuzz::targetNamed(name.toStdString());
        std::mt19937 random(20261127);
        const auto below = [&random](std::size_t n) {
            return std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
        };
        constexpr int kRounds = 150;
        for (const auto& seed : corpusOf(target)) {
            if (seed.empty()) continue;
            for (int round = 0; round < kRounds; ++round) {
                auto input = seed;
                for (std::size_t k = 0, n = 1 + below(4); k < n; ++k) {
                    const std::size_t at = below(input.size());
                    switch (below(4)) {
                    case 0: input[at] = std::byte(below(256)); break;
                    case 1: input[at] ^= std::byte(1u << below(8)); break;
                    case 2: input.resize(at + 1); break;
                    default:
                        input.insert(input.begin() + std::ptrdiff_t(at), input.begin(),
                                     input.begin() + std::ptrdiff_t(std::min<std::size_t>(at, 8)));
                    }
                }
                target.run(target, input);
            }
        }
    }
};

QTEST_GUILESS_MAIN(FuzzTest)
#include "fuzz_test.moc"
