using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tembri.Core.Wishes;

/// <summary>What a teacher wants of chords, shapes and rungs: for one ladder, for a student, or for the whole studio.</summary>
/// <remarks>A value that is kept as JSON. Wishes of several widths are put together by <see cref="Over"/>; the narrower ones
/// win.</remarks>
public sealed record TeacherWishes
{
    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault, Converters = { new JsonStringEnumConverter() },
    };

    /// <summary>Nothing is wished for.</summary>
    public static readonly TeacherWishes None = new();

    /// <summary>The most wishes of one sort that are kept.</summary>
    public const int Most = 200;

    /// <summary>Chords that are played in place of a chord of this song.</summary>
    public IReadOnlyList<ChordInstead> Instead { get; init; } = [];

    /// <summary>Chords of the teacher's that can stand in for others.</summary>
    public IReadOnlyList<StandIn> StandIns { get; init; } = [];

    /// <summary>Shapes that are not played.</summary>
    public IReadOnlyList<ShapeBan> Shapes { get; init; } = [];

    /// <summary>Kinds of substitution that are not used.</summary>
    public IReadOnlyList<KindBan> Kinds { get; init; } = [];

    /// <summary>The teacher's own grips.</summary>
    public IReadOnlyList<OwnGrip> Grips { get; init; } = [];

    /// <summary>Chords that are looked at by themselves in a section.</summary>
    public IReadOnlyList<SetApart> Apart { get; init; } = [];

    /// <summary>What is different about the rungs.</summary>
    public IReadOnlyList<RungWish> Rungs { get; init; } = [];

    /// <summary>Other rungs of the right hand, by section of this song.</summary>
    public IReadOnlyList<HandWish> Hands { get; init; } = [];

    /// <summary>True when nobody's thumb is used over the neck.</summary>
    public bool NoThumb { get; init; }

    /// <summary>True when nothing is wished for.</summary>
    [JsonIgnore]
    public bool IsEmpty =>
        this is { Instead.Count: 0, StandIns.Count: 0, Shapes.Count: 0, Kinds.Count: 0, Grips.Count: 0, Apart.Count: 0,
            Rungs.Count: 0, Hands.Count: 0, NoThumb: false };

    /// <summary>These wishes together with wider ones; where both speak of the same, these win.</summary>
    /// <param name="wider">The wishes for a student, or for the studio.</param>
    public TeacherWishes Over(TeacherWishes wider)
    {
        if (IsEmpty) return wider;
        if (wider.IsEmpty) return this;
        return new TeacherWishes
        {
            Instead = Instead, Apart = Apart, Hands = Hands, NoThumb = NoThumb || wider.NoThumb,
            StandIns = [.. StandIns, .. wider.StandIns.Where(w => StandIns.All(s => s.Chord != w.Chord))],
            Shapes = [.. Shapes, .. wider.Shapes],
            Kinds = [.. Kinds, .. wider.Kinds],
            // The first that holds for a rung counts, so wider ones stay for the rungs a narrower one leaves to them.
            Grips = [.. Grips, .. wider.Grips.Where(w => Grips.All(g => g.Chord != w.Chord || !g.Rungs.Covers(w.Rungs)))],
            Rungs = [.. wider.Rungs.Where(w => Rungs.All(r => r.Number != w.Number)),
                .. Rungs.Select(r => wider.Rungs.FirstOrDefault(w => w.Number == r.Number) is { } w ? r.Over(w) : r)],
        };
    }

    /// <summary>These wishes with more; what is there already is not there twice.</summary>
    public TeacherWishes With(TeacherWishes more)
    {
        var these = Without(more);
        return these with
        {
            Instead = [.. these.Instead, .. more.Instead], StandIns = [.. these.StandIns, .. more.StandIns],
            Shapes = [.. these.Shapes, .. more.Shapes], Kinds = [.. these.Kinds, .. more.Kinds],
            Grips = [.. these.Grips, .. more.Grips], Apart = [.. these.Apart, .. more.Apart],
            Rungs = [.. these.Rungs, .. more.Rungs], Hands = [.. these.Hands, .. more.Hands],
            NoThumb = these.NoThumb || more.NoThumb,
        };
    }

    /// <summary>These wishes without some of them.</summary>
    public TeacherWishes Without(TeacherWishes some)
    {
        static IReadOnlyList<T> Less<T>(IReadOnlyList<T> all, IReadOnlyList<T> some)
        {
            if (some.Count == 0) return all;
            var gone = some.Select(Text).ToHashSet();
            return [.. all.Where(x => !gone.Contains(Text(x)))];
        }
        static string Text<T>(T x) => JsonSerializer.Serialize(x, Written);
        return new TeacherWishes
        {
            Instead = Less(Instead, some.Instead), StandIns = Less(StandIns, some.StandIns), Shapes = Less(Shapes, some.Shapes),
            Kinds = Less(Kinds, some.Kinds),
            Grips = Less(Grips, some.Grips), Apart = Less(Apart, some.Apart), Rungs = Less(Rungs, some.Rungs),
            Hands = Less(Hands, some.Hands), NoThumb = NoThumb && !some.NoThumb,
        };
    }

    /// <summary>The wishes as JSON; the same wishes give the same text.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Written);

    /// <summary>Reads what <see cref="ToJson"/> wrote; nothing is wished for in a text that is empty or none of ours.</summary>
    public static TeacherWishes Read(string? json)
    {
        if (string.IsNullOrEmpty(json)) return None;
        try { return JsonSerializer.Deserialize<TeacherWishes>(json, Written) ?? None; }
        catch (JsonException) { return None; }
    }
}
