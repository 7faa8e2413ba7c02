using System.Globalization;
using System.Xml.Linq;
using Tembri.Core.Figures;
using Tembri.Core.Music;

namespace Tembri.Formats.Scores;

/// <summary>Numbers, notes and lengths as MusicXML writes them; what is out of range counts as absent.</summary>
internal static class ScoreXml
{
    /// <summary>Divisions, and other numbers: more than any measure has.</summary>
    public const double LargestValue = 1e7;

    /// <summary>A whole number; null for anything else.</summary>
    public static int? Whole(string? text) =>
        int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value) ? value : null;

    /// <summary>The number in a child of an element, 0 where there is none.</summary>
    public static double Value(XElement element, string name) =>
        double.TryParse(element.Element(name)?.Value, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
                && Math.Abs(value) < LargestValue
            ? value
            : 0;

    /// <summary>How many semitones higher than written a part sounds, by its <c>transpose</c>.</summary>
    public static int SemitonesOf(XElement transpose) =>
        Math.Clamp(Whole(transpose.Element("chromatic")?.Value) ?? 0, -36, 36) + 12 * OctavesOf(transpose);

    /// <summary>How many octaves of that are given apart.</summary>
    public static int OctavesOf(XElement transpose) =>
        Math.Clamp(Whole(transpose.Element("octave-change")?.Value) ?? 0, -4, 4);

    /// <summary>The children of a measure in order, each with where it stands and how long it lasts, in divisions: a note of a
    /// chord where the chord begins, a grace note no time at all.</summary>
    public static IEnumerable<(XElement Item, double At, double Duration)> Placed(XElement measure)
    {
        double position = 0, last = 0;
        foreach (var item in measure.Elements())
        {
            var name = item.Name.LocalName;
            var duration = name is "note" or "backup" or "forward" ? Math.Max(0, Value(item, "duration")) : 0;
            if (name == "note" && item.Element("chord") is null) last = position;
            yield return (item, name == "note" ? last : position, duration);
            if (name == "backup") position = Math.Max(0, position - duration);
            else if (name == "forward" || name == "note" && item.Element("chord") is null) position += duration;
        }
    }

    /// <summary>Divisions in beats of a meter.</summary>
    public static double Beats(double divisions, int aQuarter, Meter meter) =>
        divisions * NoteValues.Quarter / Math.Max(1, aQuarter) / NoteValues.OfBeat(meter);

    /// <summary>A note by its step and alteration, children such as <c>root-step</c> and <c>root-alter</c>; null where it is
    /// none, or altered twice.</summary>
    /// <param name="element">Their parent.</param>
    /// <param name="prefix">What their names begin with, such as <c>root-</c>.</param>
    public static Note? NoteOf(XElement? element, string prefix) =>
        StepOf(element, prefix) is { } step && AlterOf(element!, prefix) is >= -1 and <= 1 and var alter
            ? Note.Of(step, alter)
            : null;

    /// <summary>A pitch by its step, alteration and octave, such as <c>tuning-step</c> and <c>tuning-octave</c>; one that is
    /// altered twice by its simpler name.</summary>
    public static Pitch? PitchOf(XElement element, string prefix = "")
    {
        if (StepOf(element, prefix) is not { } step || AlterOf(element, prefix) is not (>= -2 and <= 2 and var alter)
            || Whole(element.Element(prefix + "octave")?.Value) is not (>= -1 and <= 9 and var octave))
            return null;
        var pitch = new Pitch(Note.Of(step, alter), octave);
        return Math.Abs(alter) < 2 ? pitch : FigureLine.PitchOf(pitch.Midi);
    }

    private static char? StepOf(XElement? element, string prefix) =>
        element?.Element(prefix + "step")?.Value.Trim() is { Length: 1 } letter && "ABCDEFG".Contains(letter[0])
            ? letter[0]
            : null;

    private static int AlterOf(XElement element, string prefix) =>
        Whole(element.Element(prefix + "alter")?.Value.Trim().Split('.')[0]) ?? 0;
}
