using System.Security.Cryptography;
using System.Text;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;
using Tembri.Web.Words;

namespace Tembri.Web.Ladders;

/// <summary>How far a wish of the teacher's goes.</summary>
internal enum WishScope
{
    /// <summary>This rung.</summary>
    Rung,
    /// <summary>This rung and those above.</summary>
    Up,
    /// <summary>Every rung of this ladder.</summary>
    Ladder,
    /// <summary>Every song of the student's.</summary>
    Student,
    /// <summary>Every song of the studio.</summary>
    Studio,
}

/// <summary>One wish of the teacher's as a line to read and to take back.</summary>
/// <param name="Id">Names it, by what it says.</param>
/// <param name="Scope">Where it was said: on the ladder, for the student or in the studio.</param>
/// <param name="Words">What it says.</param>
/// <param name="What">The wish by itself.</param>
internal sealed record WishLine(string Id, WishScope Scope, string Words, TeacherWishes What)
{
    /// <summary>All wishes that bear on a ladder, its own first.</summary>
    public static IReadOnlyList<WishLine> Of(OpenLadder open, NoteNames names) =>
    [
        .. Of(TeacherWishes.Read(open.Choice?.Wishes), WishScope.Ladder, open.Ladder, names),
        .. Of(open.StudentWishes, WishScope.Student, open.Ladder, names),
        .. Of(open.StudioWishes, WishScope.Studio, open.Ladder, names),
    ];

    /// <summary>The wishes of one scope.</summary>
    /// <param name="wishes">The wishes.</param>
    /// <param name="scope">Where they were said.</param>
    /// <param name="ladder">The ladder whose key tells what degrees are called; null where there is none.</param>
    /// <param name="names">Names of notes in use.</param>
    public static IEnumerable<WishLine> Of(TeacherWishes wishes, WishScope scope, Ladder? ladder, NoteNames names)
    {
        WishLine Line(string words, TeacherWishes what) =>
            new(Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(scope + what.ToJson())))[..16], scope, words,
                what);
        string Named(string degree) =>
            ladder is not null && Chord.OfDegree(degree, ladder.Chart.Key) is { } chord
                ? $"{chord.Named(names).Name}{(chord.Section is { } section ? $" of {section}" : "")}"
                : degree;
        var none = TeacherWishes.None;
        foreach (var i in wishes.Instead)
            yield return Line(
                $"{Named(i.Plays)} for {Named(i.Chord)}{Said(i.Rungs)}{(i.Reason.Length > 0 ? $": {i.Reason}" : "")}",
                none with { Instead = [i] });
        foreach (var a in wishes.Apart)
            yield return Line($"{Named(a.Chord)} of {a.Section} by itself", none with { Apart = [a] });
        foreach (var s in wishes.StandIns)
            yield return Line($"{s.Plays} may stand for {s.Chord}, likewise on every root", none with { StandIns = [s] });
        foreach (var b in wishes.Shapes)
            yield return Line($"never {new Shape([.. b.Frets])}{Said(b.Rungs)}", none with { Shapes = [b] });
        foreach (var b in wishes.Kinds)
            yield return Line($"never “{SubstitutionWords.Name(b.Kind)}”{Said(b.Rungs)}", none with { Kinds = [b] });
        foreach (var g in wishes.Grips)
            yield return Line($"{g.Chord} as {g.ToShape()}{(g.Always ? "" : ", unless a change pays clearly")}{Said(g.Rungs)}",
                none with { Grips = [g] });
        foreach (var r in wishes.Rungs) yield return Line(RungWords.Say(r), none with { Rungs = [r] });
        foreach (var h in wishes.Hands)
            yield return Line($"{h.Section}: {StrumWords.Rung(h.Hand, false).ToLowerInvariant()}{Said(h.Rungs)}",
                none with { Hands = [h] });
        if (wishes.NoThumb) yield return Line("no thumb over the neck", none with { NoThumb = true });
    }

    private static string Said(RungSpan span) =>
        span == RungSpan.All ? ""
            : span.From == span.To ? $" on rung {Label(span.From)}"
            : span.To >= RungSpan.All.To ? $" from rung {Label(span.From)} up"
            : $" on rungs {Label(span.From)} to {Label(span.To)}";

    private static string Label(double height) =>
        RungLimits.LabelOf(height == Math.Floor(height) ? (int)height : (int)Math.Round(height * 10));
}
