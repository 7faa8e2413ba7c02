using System.Text.Json.Serialization;
using Tembri.Core.Changes;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>How a skill moved.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="From">Before, 0 to 100.</param>
/// <param name="To">After, 0 to 100.</param>
public readonly record struct SkillMove(Technique Technique, double From, double To);

/// <summary>What one piece of evidence did.</summary>
/// <param name="Index">Which one, counted from 0 in the order it was given.</param>
/// <param name="Expected">What was expected: clean changes in the seconds, or clean tries of those there were.</param>
/// <param name="Observed">What came.</param>
/// <param name="Place">How high what came lies in what was predicted, 0 to 1; evenly spread when predictions are right. Only for
/// counts; null for tries.</param>
/// <param name="Moves">The skills it moved by 0.05 points or more, the most first.</param>
public sealed record SkillStep(int Index, double Expected, double Observed, double? Place, IReadOnlyList<SkillMove> Moves);

/// <summary>What a log says of the skills.</summary>
/// <param name="Belief">What is believed after all of it.</param>
/// <param name="Steps">What each piece did, in the order of time.</param>
public sealed record SkillHistory(SkillBelief Belief, IReadOnlyList<SkillStep> Steps);

/// <summary>Learns skills from practice: the same log gives the same skills, always.</summary>
/// <remarks>
/// A Kalman filter (Kalman 1960) over the techniques as Glicko uses it for games (Glickman 1999): the belief widens with the
/// days between entries, and each entry narrows it where it tells something. Tries are
/// binomial with the chance of <see cref="FitModel"/>; mean and covariance of the posterior are sums over a grid of the
/// techniques that are asked (<see cref="TrialPosterior"/>). Counts are log-normal around the time the change model gives; how
/// much they scatter is learnt with them (Särkkä &amp; Nummenmaa 2009, variational, one step). What was not tried for weeks is
/// forgotten a little.
/// </remarks>
public sealed class SkillLearning
{
    private const double Reported = 0.05;   // points; smaller moves are not told
    // a difference of logarithms of the likelihood below which a technique is left as it is
    private const double Telling = 0.03;
    private const double NoCleanChange = 0.5;   // what a count of 0 is taken for: its logarithm has to be a number

    private readonly LearningWeights _w;
    private readonly double[] _mean;
    private readonly double[,] _covariance;
    private readonly DateTimeOffset?[] _tried = new DateTimeOffset?[SkillBelief.Count];
    private DateTimeOffset? _now;
    private double _scatterShape, _scatterScale;   // of the inverse gamma of the counts' variance, against the usual one

    /// <summary>Starts from what a teacher thinks.</summary>
    /// <param name="first">The first guess.</param>
    /// <param name="weights">How learning goes; those that ship when left out.</param>
    public SkillLearning(Skills first, LearningWeights? weights = null)
    {
        _w = weights ?? LearningWeights.Default;
        _mean = [.. Enum.GetValues<Technique>().Select(t => Math.Clamp(first[t], 0, 100))];
        _covariance = new double[_mean.Length, _mean.Length];
        for (var i = 0; i < _mean.Length; i++) _covariance[i, i] = _w.FirstDeviation * _w.FirstDeviation;
        _scatterShape = _scatterScale = _w.CountScatterWorth / 2;
    }

    /// <summary>Goes on from where another stood.</summary>
    internal SkillLearning(State state)
    {
        _w = LearningWeights.Default;
        (_mean, _now) = ([.. state.Means], state.Now);
        (_scatterShape, _scatterScale) = (state.ScatterShape, state.ScatterScale);
        _covariance = new double[_mean.Length, _mean.Length];
        Buffer.BlockCopy(state.Covariance, 0, _covariance, 0, Buffer.ByteLength(state.Covariance));
        state.Tried.CopyTo(_tried, 0);
    }

    /// <summary>All there is to go on from.</summary>
    /// <param name="Means">Mean of each technique.</param>
    /// <param name="Covariance">Their covariance, row by row.</param>
    /// <param name="Tried">When each was tried last.</param>
    /// <param name="Now">When the last evidence was.</param>
    /// <param name="ScatterShape">Shape of the inverse gamma of the counts' variance.</param>
    /// <param name="ScatterScale">Its scale.</param>
    internal sealed record State(double[] Means, double[] Covariance, DateTimeOffset?[] Tried, DateTimeOffset? Now,
        double ScatterShape, double ScatterScale)
    {
        /// <summary>True for one of as many techniques as there are.</summary>
        [JsonIgnore]
        public bool IsWhole => Means?.Length == SkillBelief.Count && Covariance?.Length == SkillBelief.Count * SkillBelief.Count
            && Tried?.Length == SkillBelief.Count;
    }

    /// <summary>Where it stands.</summary>
    internal State Stand =>
        new([.. _mean], [.. _covariance.Cast<double>()], [.. _tried], _now, _scatterShape, _scatterScale);

    /// <summary>Replays a log.</summary>
    /// <param name="first">The first guess.</param>
    /// <param name="evidence">What was tried, in any order; what is of one moment keeps its order.</param>
    /// <param name="until">When the skills are wanted, for what is forgotten until then; the last entry's time when left
    /// out.</param>
    public static SkillHistory Replay(Skills first, IReadOnlyList<Evidence> evidence, DateTimeOffset? until = null)
    {
        var learning = new SkillLearning(first);
        var steps = Enumerable.Range(0, evidence.Count).OrderBy(i => evidence[i].At).ThenBy(i => i)
            .Select(i => learning.Learn(evidence[i], i)).ToList();
        if (until is { } end) learning.Wait(end);
        return new SkillHistory(learning.Belief, steps);
    }

    /// <summary>What is believed now.</summary>
    public SkillBelief Belief => new([.. _mean], (double[,])_covariance.Clone());

    /// <summary>Lets time go by: the belief widens, and what was not tried for weeks falls a little. Earlier times change
    /// nothing.</summary>
    public void Wait(DateTimeOffset until)
    {
        if (_now is not { } before || until <= before)
        {
            _now ??= until;
            return;
        }
        var days = (until - before).TotalDays;
        var widest = _w.FirstDeviation * _w.FirstDeviation;
        for (var i = 0; i < _mean.Length; i++)
        {
            if (_covariance[i, i] < widest) _covariance[i, i] = Math.Min(widest, _covariance[i, i] + _w.DriftADay * days);
            if (_tried[i] is { } last)
                _mean[i] = Math.Max(0, _mean[i] - Forgotten((until - last).TotalDays) + Forgotten((before - last).TotalDays));
        }
        _now = until;
    }

    /// <summary>Points forgotten after days without a technique.</summary>
    private double Forgotten(double days) =>
        _w.MostForgotten * (1 - Math.Pow(2, -Math.Max(0, days - _w.ForgottenAfterDays) / _w.HalfForgottenDays));

    /// <summary>Learns from one entry.</summary>
    /// <param name="evidence">The entry; not earlier than the last one.</param>
    /// <param name="index">Which one it is.</param>
    public SkillStep Learn(Evidence evidence, int index = 0)
    {
        Wait(evidence.At);
        var before = (double[])_mean.Clone();
        var (expected, observed, place) = evidence switch
        {
            Trials trials => LearnTrials(trials),
            ChangeCount count => LearnCount(count),
            _ => throw new ArgumentException($"Skills cannot be learnt from {evidence.GetType().Name}.", nameof(evidence)),
        };
        var moves = Enumerable.Range(0, _mean.Length).Select(i => new SkillMove((Technique)i, before[i], _mean[i]))
            .Where(m => Math.Abs(m.To - m.From) >= Reported)
            .OrderByDescending(m => Math.Abs(m.To - m.From)).ThenBy(m => m.Technique).ToList();
        return new SkillStep(index, expected, observed, place, moves);
    }

    /// <summary>Clean changes expected in a time from somebody of a skill.</summary>
    /// <param name="referenceSeconds">What the reference player needs for the way, s.</param>
    /// <param name="seconds">The time, s.</param>
    /// <param name="skill">Skill in changing, 0 to 100.</param>
    public static double ExpectedCount(double referenceSeconds, double seconds, double skill) =>
        seconds / 60 * TimedChanges.CountOf(referenceSeconds * ChangePace.SlownessOf(skill));

    private (double Expected, double Observed, double? Place) LearnCount(ChangeCount count)
    {
        const int t = (int)Technique.Changes;
        _tried[t] = count.At;
        var expected = ExpectedCount(count.ReferenceSeconds, count.Seconds, _mean[t]);
        var observed = Math.Log(Math.Max(NoCleanChange, count.Count));
        var usual = _w.CountScatter * _w.CountScatter;
        var (prior, variance) = (_mean[t], _covariance[t, t]);
        var spread = Math.Sqrt(variance * Square(Slope(prior)) + usual * _scatterScale / _scatterShape);
        var place = Normal((observed - Math.Log(expected)) / spread);
        var noise = usual * _scatterScale / _scatterShape;
        double Off(double skill) => observed - Math.Log(ExpectedCount(count.ReferenceSeconds, count.Seconds, skill));
        var (mean, narrower) = CountPosterior.Moments(prior, Math.Sqrt(variance), skill => -0.5 * Square(Off(skill)) / noise);
        Become([t], [mean], new[,] { { narrower } });
        _scatterShape += 0.5;
        _scatterScale += 0.5 * (Square(Off(mean)) + Square(Slope(mean)) * narrower) / usual;
        return (expected, count.Count, place);

        // How the logarithm of the count rises with a point of skill.
        double Slope(double skill)
        {
            var way = count.ReferenceSeconds * ChangePace.SlownessOf(skill);
            return Math.Log(2) / ChangePace.PointsForTwice * way / (way + ChangeWeights.Default.Dwell);
        }
    }

    private (double Expected, double Observed, double? Place) LearnTrials(Trials trials)
    {
        var byTechnique =
            trials.Gates.GroupBy(g => (int)g.Technique).Select(g => (Technique: g.Key, Gates: g.ToArray())).ToList();
        foreach (var (technique, _) in byTechnique) _tried[technique] = trials.At;
        var chance = 1.0;
        for (var i = 0; i < trials.Gates.Count; i++) chance *= trials.Gates[i].Chance(_mean[(int)trials.Gates[i].Technique]);
        // What comes off whatever the skill may be, within what is believed, tells nothing of it.
        var telling = byTechnique.Select(t => (t.Technique, t.Gates, Tells: Tells(trials, t.Technique, t.Gates, chance)))
            .Where(t => t.Tells > Telling)
            .OrderByDescending(t => t.Tells).ThenBy(t => t.Technique).Take(TrialPosterior.Most).OrderBy(t => t.Technique)
            .ToList();
        if (telling.Count > 0)
        {
            var asked = telling.Select(t => t.Technique).ToArray();
            // Tries of one sitting are alike: they tell as much as fewer apart (the design effect of Kish 1965).
            var worth = 1 / (1 + (trials.Tries - 1) * _w.TriesAlike);
            var otherwise = trials.Gates.Where(g => !asked.Contains((int)g.Technique))
                .Aggregate(1.0, (c, g) => c * g.Chance(_mean[(int)g.Technique]));
            var (mean, covariance) = new TrialPosterior([.. telling.Select(t => t.Gates)], [.. asked.Select(t => _mean[t])],
                [.. asked.Select(t => Math.Sqrt(_covariance[t, t]))], trials.Tries * worth)
                .Moments(SmallMatrix.Inverse(asked.Length, (i, j) => _covariance[asked[i], asked[j]]), trials.Tries * worth,
                    trials.Clean * worth, otherwise);
            // Correlations with what was tried before may pull one technique against what just happened; nobody would understand
            // that ten clean tries lower a skill.
            Become(asked, mean, covariance, trials.Clean == trials.Tries ? 1 : trials.Clean == 0 ? -1 : 0);
        }
        return (trials.Tries * chance, trials.Clean, null);
    }

    /// <summary>How much the likelihood of tries varies over what is believed of a technique, as a difference of logarithms:
    /// what failed tells most where it was hardly to be expected.</summary>
    /// <param name="trials">The tries.</param>
    /// <param name="technique">The technique.</param>
    /// <param name="gates">What asks it.</param>
    /// <param name="chance">Chance of a clean try with what is believed now.</param>
    private double Tells(Trials trials, int technique, Gate[] gates, double chance)
    {
        var deviation = Math.Sqrt(_covariance[technique, technique]);
        double Chance(double away)
        {
            var all = 1.0;
            foreach (var gate in gates) all *= gate.Chance(_mean[technique] + away * deviation);
            return all;
        }
        var rest = chance / Math.Max(1e-12, Chance(0));
        double Failed(double away) => Math.Log(Math.Max(1e-12, 1 - Math.Min(1, rest) * Chance(away)));
        var (low, high) = (Math.Max(1e-12, Chance(-1.5)), Math.Max(1e-12, Chance(1.5)));
        return Math.Max(trials.Tries * (Math.Log(high) - Math.Log(low)),
            (trials.Tries - trials.Clean) * (Failed(-1.5) - Failed(1.5)));
    }

    /// <summary>Takes what is now believed of the asked techniques over to all: the others move and narrow by how they hang
    /// together with them.</summary>
    /// <param name="asked">The techniques.</param>
    /// <param name="mean">Their new means.</param>
    /// <param name="covariance">Their new covariance.</param>
    /// <param name="way">1 when no mean of an asked technique may fall, −1 when none may rise, 0 for any.</param>
    private void Become(int[] asked, double[] mean, double[,] covariance, int way = 0)
    {
        var (n, k) = (_mean.Length, asked.Length);
        var inverse = SmallMatrix.Inverse(k, (i, j) => _covariance[asked[i], asked[j]]);
        var pull = new double[n, k];   // of each technique, by a point of an asked one
        for (var t = 0; t < n; t++)
            for (var i = 0; i < k; i++) for (var j = 0; j < k; j++) pull[t, i] += _covariance[t, asked[j]] * inverse[j, i];
        var move = new double[k];
        for (var i = 0; i < k; i++) move[i] = mean[i] - _mean[asked[i]];
        var narrower = new double[k, k];
        for (var i = 0; i < k; i++)
            for (var j = 0; j < k; j++) narrower[i, j] = covariance[i, j] - _covariance[asked[i], asked[j]];
        for (var t = 0; t < n; t++)
        {
            var moved = Enumerable.Range(0, k).Sum(i => pull[t, i] * move[i]);
            _mean[t] = Math.Clamp(_mean[t] + (moved * way < 0 && asked.Contains(t) ? 0 : moved), 0, 100);
        }
        for (var t = 0; t < n; t++)
            for (var u = 0; u < n; u++)
                for (var i = 0; i < k; i++)
                    for (var j = 0; j < k; j++) _covariance[t, u] += pull[t, i] * narrower[i, j] * pull[u, j];
    }

    private static double Square(double x) => x * x;

    /// <summary>The normal distribution function, by Abramowitz and Stegun 26.2.17 (error below 7.5e-8).</summary>
    private static double Normal(double x)
    {
        var t = 1 / (1 + 0.2316419 * Math.Abs(x));
        var tail = Math.Exp(-x * x / 2) / Math.Sqrt(2 * Math.PI) * t
            * (0.319381530 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
        return x > 0 ? 1 - tail : tail;
    }
}
