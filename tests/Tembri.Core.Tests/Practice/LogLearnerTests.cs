using CsCheck;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Practice;

/// <summary>A log learnt from as it grows, against the whole of it at once.</summary>
public sealed class LogLearnerTests
{
    private static readonly DateTimeOffset Start = new(2026, 9, 1, 15, 0, 0, TimeSpan.Zero);
    private static readonly Shape[] Shapes = [.. GripLibrary.All.Select(g => g.Shape).Distinct().Take(12)];

    private static readonly Gen<Evidence> OfAMoment =
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 11], Gen.Int[0, 11], Gen.Int[0, 20], Gen.Int[0, 20],
                Gen.Long[0, 60L * 86_400_000_000]).Select(Evidence (kind, from, to, count, more, later) =>
            {
                var at = Start.AddTicks(later * TimeSpan.TicksPerMicrosecond);
                return kind switch
                {
                    0 => new ChangeCount(at, 0.3 + more / 10.0, count, 10 + more,
                        from == to ? null : (Shapes[from], Shapes[to])),
                    1 => Trials.OfStrum(at, 5 * more, count > 10),
                    _ => new Trials(at, [Gate.OfChange(0.4, 0.1 + from / 10.0), Gate.OfStrum(3 * more)], count + more + 1, count,
                        Shapes[to]),
                };
            });

    private static readonly Gen<Evidence[]> Log =
        OfAMoment.Array[0, 30].Select(log => (Evidence[])[.. log.OrderBy(e => e.At)]);

    [Fact]
    public void A_log_put_away_between_any_two_entries_teaches_the_same_to_the_last_digit() =>
        Gen.Select(Log, Gen.Double[5, 95], Gen.Double[-2, 90], Gen.Int[0, 60]).Sample((log, guess, days, since) =>
        {
            var (first, now, guessed) = (Skills.Each(t => guess + (int)t % 3), Start.AddDays(days), Start.AddDays(since));
            var (whole, history) = Learnt.From(first, log, now, guessed);
            var learner = new LogLearner(first, guessed);
            for (var i = 0; i < log.Length; i++)
            {
                learner = LogLearner.FromJson(learner.ToJson())!;
                var step = learner.Learn(log[i], i);
                Assert.Equal(log[i].At >= guessed, step is not null);
                if (step is not null) Assert.Equal(history.Steps.Single(s => s.Index == i).Moves, step.Moves);
                Assert.Equal(log[i].At, learner.Last);
            }
            Assert.Equal(whole.ToJson(), learner.LearntAt(now).ToJson());
            // To look at what was learnt changes nothing of it.
            learner.LearntAt(now.AddDays(200));
            Assert.Equal(whole.ToJson(), learner.LearntAt(now).ToJson());
        }, iter: 60);

    [Fact]
    public void What_was_measured_is_weighed_by_its_age_each_by_itself() =>
        Gen.Select(Log, Gen.Double[60, 400]).Sample((log, days) =>
        {
            var now = Start.AddDays(days);
            double Worth(Evidence e) =>
                Math.Exp(-Math.Log(2) * (now - e.At).TotalDays / LearningWeights.Default.MeasuredHalfLifeDays);
            var (learnt, _) = Learnt.From(new Skills(), log, now);
            foreach (var shape in Shapes)
            {
                var tries = log.OfType<Trials>().Where(t => shape.Equals(t.Shape)).ToList();
                var kept = learnt.Shapes.SingleOrDefault(s => new Shape(s.Frets).Equals(shape));
                var sum = tries.Sum(t => t.Tries * Worth(t));
                if (Math.Abs(sum - 0.05) < 1e-9) continue;
                Assert.Equal(sum > 0.05, kept is not null);
                if (kept is null) continue;
                Assert.Equal(sum, kept.Tries, sum * 1e-9);
                Assert.Equal(tries.Sum(t => t.Clean * Worth(t)), kept.Clean, sum * 1e-9);
            }
            var counts = log.OfType<ChangeCount>().Where(c => c is { Between: not null, Count: > 0 })
                .GroupBy(c => c.Between!.Value).ToDictionary(g => g.Key, g => g.ToList());
            foreach (var change in learnt.Changes)
            {
                var mine = counts[(new Shape(change.From), new Shape(change.To))];
                Assert.Equal(mine.Sum(Worth), change.Counts, change.Counts * 1e-9);
                var seconds = mine.Sum(
                    c => Worth(c) * Math.Log(Core.Changes.TimedChanges.SecondsOf(60 * c.Count / c.Seconds))) / mine.Sum(Worth);
                Assert.Equal(seconds, change.LogSeconds, 1e-9);
            }
        }, iter: 60);

    [Fact]
    public void What_is_no_learner_is_none_and_a_log_goes_forward_only()
    {
        var learner = new LogLearner(new Skills());
        learner.Learn(Trials.OfStrum(Start, 30, true));
        Assert.Throws<ArgumentException>(() => learner.Learn(Trials.OfStrum(Start.AddSeconds(-1), 30, true)));
        var text = learner.ToJson();
        Assert.NotNull(LogLearner.FromJson(text));
        string[] spoilt = ["", "{}", "null", "[1]", text[..^2],
            text.Replace("\"means\":[", "\"means\":[1,", StringComparison.Ordinal),
            text.Replace("\"shapes\":[", "\"shapes\":[{\"frets\":[1],\"tries\":1,\"clean\":1}", StringComparison.Ordinal)];
        Assert.All(spoilt, s => Assert.Null(LogLearner.FromJson(s)));
    }
}
