using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;

namespace Tembri.Web.Words;

/// <summary>What a sheet says of a version, whatever it is printed by.</summary>
internal static class VersionWords
{
    /// <summary>What the marks behind and before chords mean, those that the chart has.</summary>
    public static string Marks(Chart chart)
    {
        var bars = chart.Sections.SelectMany(s => s.Bars).ToList();
        var marks = bars.SelectMany(b => b.Slots.Select(s => BeatDots.Of(b, s))).Where(m => m.Length > 0).ToList();
        return string.Join(' ', new[]
        {
            marks.Exists(m => m[0] == '·') ? "A dot behind a chord holds it for another beat." : "",
            marks.Exists(m => m[0] != '·') ? "A number behind a chord says its beats." : "",
            bars.Exists(b => b.Slots.Any(s => s.IsEarly)) ? "‹ comes early, on the \"and\" before its beat." : "",
        }.Where(w => w.Length > 0));
    }

    /// <summary>Chords the teacher wants in place of the record's, with her reasons.</summary>
    public static IReadOnlyList<string> Own(PlayableRung rung, NoteNames names) =>
        [.. rung.Played.Where(c => c.Choice.Wanted && !c.IsSecond).Select(c =>
        $"{c.Choice.Played.Named(names).Name} for "
            + $"{c.ShapeChord.Named(names).Name}{(c.ShapeChord.Section is { } section ? $" in {section}" : "")}: "
            + $"{(string.IsNullOrEmpty(c.Reason) ? "as your teacher has it" : c.Reason)}.")];

    /// <summary>The shapes to draw: one that a chord has in a section as everywhere else is drawn once.</summary>
    public static IReadOnlyList<PlayedChord> Drawn(PlayableRung rung) =>
        [.. rung.Played.Where(c => c.IsSecond || c.ShapeChord.Section is null
            || !rung.Played.Any(
                o => o.ShapeChord.Section is null && o.ShapeChord.Name == c.ShapeChord.Name && o.Choice.SameAs(c.Choice)))];
}
