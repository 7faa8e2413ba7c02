using System.Text.Json;
using System.Text.Json.Serialization;
using Tembri.Core.Changes;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>Learns from a log as it grows. It can be put away as text and taken up again: what it then says after further
/// entries is, to the last digit, what learning from the whole log anew says.</summary>
public sealed class LogLearner
{
    /// <summary>Raised when the same log teaches something else than before, so that nothing goes on from where an older version
    /// stood.</summary>
    public const int Version = 1;

    private const double WorthNothing = 0.05;   // tries or counts; less is left out
    private static readonly LearningWeights W = LearningWeights.Default;

    // What was measured is weighed as on this day; later is a factor for all of it together.
    private static readonly DateTimeOffset WeighedAt = new(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);

    private readonly DateTimeOffset _since;
    private readonly SkillLearning _skills;
    private readonly Dictionary<Shape, (double Tries, double Clean)> _shapes = [];
    private readonly Dictionary<(Shape From, Shape To), (double Counts, double LogSeconds)> _changes = [];
    private int _entries;

    /// <summary>Begins a log.</summary>
    /// <param name="first">The first guess of the skills.</param>
    /// <param name="since">When it was made: what was tried before is in it, and counts only as what was measured of a shape or
    /// change. The beginning when left out.</param>
    public LogLearner(Skills first, DateTimeOffset since = default) => (_skills, _since) = (new SkillLearning(first), since);

    private LogLearner(Kept kept)
    {
        (_since, Last, _entries, _skills) = (kept.Since, kept.Last, kept.Entries, new SkillLearning(kept.Skills));
        foreach (var s in kept.Shapes) _shapes.Add(new Shape(s.Frets), (s.Tries, s.Clean));
        foreach (var c in kept.Changes) _changes.Add((new Shape(c.From), new Shape(c.To)), (c.Counts, c.LogSeconds));
    }

    /// <summary>As it is put away. <see cref="Learnt.ChangeItem.LogSeconds"/> is the weighed sum here.</summary>
    private sealed record Kept(DateTimeOffset Since, DateTimeOffset? Last, int Entries, SkillLearning.State Skills,
        IReadOnlyList<Learnt.ShapeItem> Shapes, IReadOnlyList<Learnt.ChangeItem> Changes)
    {
        [JsonIgnore]
        public bool IsWhole => Skills?.IsWhole == true && Shapes is not null && Changes is not null;
    }

    /// <summary>When the last entry was; null before the first.</summary>
    public DateTimeOffset? Last { get; private set; }

    /// <summary>Learns from an entry.</summary>
    /// <param name="evidence">The entry; not earlier than <see cref="Last"/>.</param>
    /// <param name="index">Which one it is.</param>
    /// <returns>What it did; null when the first guess has it already.</returns>
    /// <exception cref="ArgumentException">The entry is earlier than the last one.</exception>
    public SkillStep? Learn(Evidence evidence, int index = 0)
    {
        if (evidence.At < Last) throw new ArgumentException("A log is learnt from in the order of time.", nameof(evidence));
        Last = evidence.At;
        Measure(evidence);
        if (evidence.At < _since) return null;
        _entries++;
        return _skills.Learn(evidence, index);
    }

    private void Measure(Evidence evidence)
    {
        var worth = Weight(evidence.At);
        if (evidence is Trials { Shape: { } shape } tries)
        {
            var known = _shapes.GetValueOrDefault(shape);
            _shapes[shape] = (known.Tries + worth * tries.Tries, known.Clean + worth * tries.Clean);
        }
        else if (evidence is ChangeCount { Between: { } between, Count: > 0 } count)
        {
            var known = _changes.GetValueOrDefault(between);
            var seconds = TimedChanges.SecondsOf(60 * count.Count / count.Seconds);
            _changes[between] = (known.Counts + worth, known.LogSeconds + worth * Math.Log(seconds));
        }
    }

    private static double Weight(DateTimeOffset at) => Math.Pow(2, (at - WeighedAt).TotalDays / W.MeasuredHalfLifeDays);

    /// <summary>What was learnt so far.</summary>
    /// <param name="now">The time it is reckoned for, for what is forgotten until then; taken for the last entry's when it is
    /// earlier.</param>
    public Learnt LearntAt(DateTimeOffset now)
    {
        var then = now < Last ? Last.Value : now;
        var belief = BeliefAt(then);
        var fresh = 1 / Weight(then);
        return new Learnt
        {
            At = now, Entries = _entries, Skills = belief.ToSkills(), Deviations = Skills.Each(belief.Deviation),
            Shapes = [.. _shapes.Select(s => new Learnt.ShapeItem([.. s.Key.Frets], s.Value.Tries * fresh,
                    s.Value.Clean * fresh))
                .Where(s => s.Tries > WorthNothing)],
            Changes = [.. _changes.Select(c => new Learnt.ChangeItem([.. c.Key.From.Frets], [.. c.Key.To.Frets],
                    c.Value.Counts * fresh, c.Value.LogSeconds / c.Value.Counts))
                .Where(c => c.Counts > WorthNothing)],
        };
    }

    /// <summary>What is believed of the skills at a time.</summary>
    public SkillBelief BeliefAt(DateTimeOffset now)
    {
        var until = new SkillLearning(_skills.Stand);
        until.Wait(now);
        return until.Belief;
    }

    /// <summary>Writes it as a document, to be taken up again.</summary>
    public string ToJson() => JsonSerializer.Serialize(new Kept(_since, Last, _entries, _skills.Stand,
        [.. _shapes.Select(s => new Learnt.ShapeItem([.. s.Key.Frets], s.Value.Tries, s.Value.Clean))],
        [.. _changes.Select(c => new Learnt.ChangeItem([.. c.Key.From.Frets], [.. c.Key.To.Frets], c.Value.Counts,
            c.Value.LogSeconds))]), JsonSerializerOptions.Web);

    /// <summary>Takes up what <see cref="ToJson"/> wrote; null for a text that is none of ours.</summary>
    public static LogLearner? FromJson(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<Kept>(json, JsonSerializerOptions.Web) is { IsWhole: true } kept
                ? new LogLearner(kept)
                : null;
        }
        catch (Exception e) when (e is JsonException or ArgumentException) { return null; }
    }
}
