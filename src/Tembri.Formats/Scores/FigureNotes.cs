using System.Globalization;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Figures;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;

namespace Tembri.Formats.Scores;

/// <summary>Figures in a score: a second voice of the measure, with string, fret and finger where they are known.</summary>
internal static class FigureNotes
{
    private const int Voice = 2;
    private const int GuitarStrings = 6;

    /// <summary>Adds the notes of a figure that begin in a bar.</summary>
    /// <param name="measure">The measure, filled already.</param>
    /// <param name="section">The section.</param>
    /// <param name="figure">One of its figures.</param>
    /// <param name="bar">Which bar of the section the measure is, from 0.</param>
    /// <param name="version">The version that is written, for the fingers; null for the chart itself.</param>
    public static void Add(XElement measure, Section section, Figure figure, int bar, VersionChart? version)
    {
        if (bar < figure.Bar) return;
        var (start, meter) = (section.Bars.Skip(figure.Bar).Take(bar - figure.Bar).Sum(b => b.Beats), section.Bars[bar].Meter);
        var length = section.Bars[bar].Beats;
        var beat = NoteValues.OfBeat(meter);
        int Parts(double beats) => (int)Math.Round(beats * beat);
        var here = Enumerable.Range(0, figure.Notes.Count)
            .Where(i => figure.Notes[i].At > start - 1e-6 && figure.Notes[i].At < start + length - 1e-6).ToList();
        if (here.Count == 0) return;
        var path = version?.Rung.Figures.FirstOrDefault(f => ReferenceEquals(f.Played, figure))?.Path;
        measure.Add(new XElement("backup", new XElement("duration", Parts(length))));
        var time = 0;
        foreach (var i in here)
        {
            var note = figure.Notes[i];
            var (from, to) = (Parts(note.At - start), Math.Min(Parts(length), Parts(note.At - start + note.Beats)));
            if (to <= from) continue;
            if (from > time)
                measure.Add(new XElement("forward", new XElement("duration", from - time), new XElement("voice", Voice)));
            AddNote(measure, figure, i, to - from, path?.Places[i].Finger ?? Finger.None);
            time = to;
        }
        if (time < Parts(length))
            measure.Add(new XElement("forward", new XElement("duration", Parts(length) - time), new XElement("voice", Voice)));
    }

    private static void AddNote(XElement measure, Figure figure, int index, int parts, Finger finger)
    {
        var note = figure.Notes[index];
        var next = index + 1 < figure.Notes.Count ? figure.Notes[index + 1].How : Ornament.None;
        var values = NoteValues.Of(parts);
        for (var i = 0; i < values.Count; i++)
        {
            var (isFirst, isLast, value) = (i == 0, i == values.Count - 1, values[i]);
            var (stops, starts) = (!isFirst || note.How == Ornament.Held, !isLast || next == Ornament.Held);
            static XElement Type(string name, string type) => new(name, new XAttribute("type", type));
            var technical = new XElement("technical",
                isFirst && finger is not (Finger.None or Finger.Thumb)
                    ? new XElement("fingering", ((int)finger).ToString(CultureInfo.InvariantCulture))
                    : null,
                note.Where is { } place ? new XElement("string", GuitarStrings - place.String) : null,
                note.Where is { } at ? new XElement("fret", at.Fret) : null,
                isFirst ? Slur(note.How, "stop") : null, isLast ? Slur(next, "start") : null);
            var notations = new XElement("notations",
                stops ? Type("tied", "stop") : null, starts ? Type("tied", "start") : null,
                technical.HasElements ? technical : null,
                isFirst && note.How == Ornament.Slide ? Type("slide", "stop") : null,
                isLast && next == Ornament.Slide ? Type("slide", "start") : null);
            measure.Add(new XElement("note",
                MusicXmlWriter.PitchOf(note.Pitch), new XElement("duration", value.Parts), stops ? Type("tie", "stop") : null,
                starts ? Type("tie", "start") : null,
                new XElement("voice", Voice), new XElement("type", value.Type), value.Dotted ? new XElement("dot") : null,
                value.Triplet
                    ? new XElement("time-modification", new XElement("actual-notes", 3), new XElement("normal-notes", 2))
                    : null,
                notations.HasElements ? notations : null));
        }
    }

    private static XElement? Slur(Ornament how, string type) => how switch
    {
        Ornament.Hammer => new XElement("hammer-on", new XAttribute("type", type), type == "start" ? "H" : null),
        Ornament.Pull => new XElement("pull-off", new XAttribute("type", type), type == "start" ? "P" : null),
        _ => null,
    };
}
