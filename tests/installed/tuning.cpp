// A search without any plan: a time that falls until, from 41.5 on, nothing passes any more.
#include "vast_turn/tune/tune.hpp"

int main() {
    vast_turn::TuneAsk ask;
    ask.numbers = {{"speed", 20.0, 60.0}};
    ask.start = {24.0};
    ask.sure = 0.9;
    ask.most_runs = 500;
    ask.drive = [](const std::vector<vast_turn::TuneBatch>& batches) {
        std::vector<std::vector<vast_turn::TuneRun>> runs;
        for (const vast_turn::TuneBatch& batch : batches) {
            runs.emplace_back(batch.days, vast_turn::TuneRun{batch.at[0] < 41.5, 300.0 / batch.at[0]});
        }
        return runs;
    };
    const vast_turn::Tuned tuned = vast_turn::tune(ask);
    return tuned.winner && tuned.tried[*tuned.winner].at[0] > 39.0 && tuned.tried[*tuned.winner].at[0] < 41.5 ? 0 : 1;
}
