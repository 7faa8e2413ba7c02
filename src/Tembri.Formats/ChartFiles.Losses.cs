using Tembri.Core.Charts;
using Tembri.Core.Ladders;

namespace Tembri.Formats;

/// <content>What a format cannot hold, in words.</content>
public static partial class ChartFiles
{
    /// <summary>What a format cannot hold of a chart, a sentence each; empty when it holds all of it.</summary>
    public static IReadOnlyList<string> Losses(Chart chart, ChartFormat format)
    {
        if (format is ChartFormat.Bars or ChartFormat.Json) return [];
        var losses = new List<string>();
        var bars = chart.Sections.SelectMany(s => s.Bars).ToList();
        if (chart.Sections.Any(s => s.Like is not null))
            losses.Add("Sections written after another are written out, so they no longer follow it.");
        if (format is ChartFormat.MusicXml or ChartFormat.Mxl or ChartFormat.Midi
            && chart.Sections.Any(s => chart.Form.All(f => f.Section != s.Name)))
            losses.Add("Sections that the form does not play are left out.");
        if (format == ChartFormat.OverLyrics)
        {
            if (bars.Any(b => b.Slots.Count > 1 || b.Meter != chart.Meter))
                losses.Add("Lengths of chords and changes of meter are lost: every chord becomes a bar.");
            if (bars.Any(b => b.Remarks.Count > 0 || b.Slots.Any(s => s.IsEarly)))
                losses.Add("Holds, pauses and pushed changes are lost.");
            if (bars.Any(b => b.Melody.Count > 0)) losses.Add("The tune is lost.");
        }
        if (format == ChartFormat.Midi)
        {
            if (bars.Any(b => b.Lead.Length > 0 || b.Slots.Any(s => s.Lyric.Length > 0))) losses.Add("Words are left out.");
            if (bars.Any(b => b.Melody.Count > 0)) losses.Add("The tune is left out.");
            if (bars.Any(b => b.Remarks.Any(IsPace))) losses.Add("Holds, pauses and slow-downs become changes of tempo.");
            if (bars.Any(b => b.Remarks.Any(r => !IsPace(r)))) losses.Add("Remarks are left out.");
            if (bars.Any(b => b.Slots.Any(s => s.IsSilence)))
                losses.Add("Silence (N.C.) is a rest with a mark that other programs show as text.");
            if (bars.Any(b => b.Slots.Any(s => s.IsEarly)))
                losses.Add("Pushed changes stand where they sound, a half beat before the bar, and no longer at the beat they "
                    + "are pushed from.");
            if (chart.Sections.Any(s => s.Strum.Length > 0)) losses.Add("What the hand strums is there as notes only.");
            if (chart.Sections.Any(s => s.Figures.Count > 0)) losses.Add("Riffs and runs are there as notes only.");
            var facts = new List<string>();
            if (chart.TuningShift != 0) facts.Add("the tuning");
            if (chart.RecordCapo != 0) facts.Add("the record's capo");
            if (chart.Recordings.Count > 0) facts.Add("other recordings");
            if (chart.Singer is not null || chart.VoiceShift != 0) facts.Add("what the voice asks for");
            if (chart.MelodyGiven is not null) facts.Add("the reach of the tune");
            if (chart.Extra.Count > 0) facts.Add("other notes in the header");
            if (facts.Count > 0) losses.Add($"Left out: {string.Join(", ", facts)}.");
        }
        if (format is not ChartFormat.OverLyrics && bars.SelectMany(b => b.Slots).Any(s => s.IsUnread))
            losses.Add(format == ChartFormat.Midi
                ? "Chords that nobody could read are silent."
                : "Chords that nobody could read are kept as text only.");
        return losses;
    }

    private static string Semitones(int count) => count == 1 ? "a semitone" : $"{count} semitones";

    private static bool IsPace(string remark) => remark is Bar.Hold or Bar.Pause or Bar.Slow;

    /// <summary>What a format cannot hold of a version, a sentence each; empty when it holds all of it.</summary>
    public static IReadOnlyList<string> Losses(VersionChart version, ChartFormat format)
    {
        var losses = Losses(version.Chart, format).ToList();
        if (format is not (ChartFormat.MusicXml or ChartFormat.Mxl))
            losses.Add(format == ChartFormat.Midi
                ? "Shapes and fingers are heard, not written."
                : "Shapes and fingers are left out; the names of the chords are kept.");
        if (format == ChartFormat.Midi && version.Raised != 0)
            losses.Add("Capo and tuning are heard in the notes, not written.");
        if (format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics && version.TuningShift != 0)
            losses.Add(version.Raised switch
            {
                > 0 => $"Capo {version.Capo} and the tuning become one capo {version.Raised} that sounds the same.",
                0 => $"Capo {version.Capo} and the tuning are left out; together they change nothing of what sounds.",
                var low => $"Capo and tuning are left out: read back it sounds {Semitones(-low)} too high.",
            });
        if (version.Lift is { } lift && format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics)
            losses.Add($"From {version.Chart.Sections[lift.Section].Name} on the capo goes up: a remark says so, but read back "
                + $"that part sounds {Semitones(lift.Semitones)} too low.");
        return losses;
    }
}
