using System.Text.Json;
using System.Text.Json.Serialization;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>What a log taught, short enough to keep beside the student: skills with their uncertainty, and what was measured of
/// single shapes and changes.</summary>
public sealed record Learnt
{
    private static readonly JsonSerializerOptions Written =
        new(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull };

    /// <summary>When it was reckoned.</summary>
    public required DateTimeOffset At { get; init; }

    /// <summary>How many entries told something.</summary>
    public required int Entries { get; init; }

    /// <summary>The skills.</summary>
    public required Skills Skills { get; init; }

    /// <summary>Their standard deviations, points.</summary>
    public required Skills Deviations { get; init; }

    /// <summary>Tries by shape: its frets, tries and clean ones, weighed by age.</summary>
    public required IReadOnlyList<ShapeItem> Shapes { get; init; }

    /// <summary>Counts by change: the frets, how many counts, and the mean logarithm of the seconds of way.</summary>
    public required IReadOnlyList<ChangeItem> Changes { get; init; }

    /// <summary>A shape as it is written.</summary>
    public sealed record ShapeItem(int[] Frets, double Tries, double Clean);

    /// <summary>A change as it is written.</summary>
    public sealed record ChangeItem(int[] From, int[] To, double Counts, double LogSeconds);

    /// <summary>Learns from a log.</summary>
    /// <param name="first">The first guess.</param>
    /// <param name="evidence">What was tried.</param>
    /// <param name="now">The time it is reckoned for.</param>
    /// <param name="since">When the first guess was made: what was tried before is in it, and counts only as what was measured
    /// of a shape or change. The beginning when left out.</param>
    public static (Learnt Learnt, SkillHistory History) From(Skills first, IReadOnlyList<Evidence> evidence, DateTimeOffset now,
        DateTimeOffset since = default)
    {
        var learner = new LogLearner(first, since);
        var steps = Enumerable.Range(0, evidence.Count).OrderBy(i => evidence[i].At).ThenBy(i => i)
            .Select(i => learner.Learn(evidence[i], i)).OfType<SkillStep>().ToList();
        return (learner.LearntAt(now), new SkillHistory(learner.BeliefAt(now), steps));
    }

    /// <summary>What was measured, to look up.</summary>
    public Measured ToMeasured() => new(
        Shapes.ToDictionary(s => new Shape(s.Frets), s => new MeasuredShape(s.Tries, s.Clean)),
        Changes.ToDictionary(c => (new Shape(c.From), new Shape(c.To)), c => new MeasuredChange(c.Counts, c.LogSeconds)));

    /// <summary>Writes it as a document.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Written);

    /// <summary>Reads what <see cref="ToJson"/> wrote; null for a text that is empty or none of ours.</summary>
    public static Learnt? FromJson(string? json)
    {
        if (string.IsNullOrEmpty(json)) return null;
        try { return JsonSerializer.Deserialize<Learnt>(json, Written); }
        catch (JsonException) { return null; }
    }
}
