using System.Globalization;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Formats.Scores;

/// <content>Chord symbols, with their shapes where a version is written.</content>
internal sealed partial class MusicXmlWriter
{
    private const int GuitarStrings = 6;

    /// <summary>Adds a chord symbol so many parts after where the measure stands; a pushed one stands at its beat and comes
    /// earlier by its offset.</summary>
    private void AddHarmony(XElement measure, Slot slot, int offset, Meter meter)
    {
        var harmony = new XElement("harmony", new XAttribute("print-frame", _version is null ? "no" : "yes"));
        if (slot.Chord is { } chord)
        {
            if (!_kinds.TryGetValue(chord, out var known)) _kinds[chord] = known = ChordKinds.Of(chord);
            var (kind, degrees) = known;
            harmony.Add(Named("root", chord.Root));
            harmony.Add(new XElement("kind", new XAttribute("text", chord.Kind), kind));
            if (chord.Bass is { } bass) harmony.Add(Named("bass", bass));
            harmony.Add(degrees.Select(d => new XElement("degree", new XElement("degree-value", d.Number),
                new XElement("degree-alter", d.Alteration), new XElement("degree-type", d.Type))));
            if (_version?.ShapeOf(slot) is { } fingering) harmony.Add(Frame(fingering));
        }
        else
        {
            // Silence, or what nobody could read: the text is kept.
            harmony.Add(Named("root", Note.C),
                new XElement("kind", new XAttribute("text", slot.IsSilence ? "N.C." : slot.Symbol),
                    slot.IsSilence ? "none" : "other"));
        }
        var shift = slot.IsEarly ? -NoteValues.OfBeat(meter) / meter.Division : offset;
        if (shift != 0) harmony.Add(new XElement("offset", new XAttribute("sound", "yes"), shift));
        var away = slot.IsEarly ? offset : 0;
        if (away > 0) measure.Add(new XElement("forward", new XElement("duration", away)));
        measure.Add(harmony);
        if (away > 0) measure.Add(new XElement("backup", new XElement("duration", away)));
    }

    private static XElement Named(string part, Note note) =>
        new(part, new XElement(part + "-step", note.Letter.ToString()),
            note.Accidental != 0 ? new XElement(part + "-alter", note.Accidental) : null);

    private static XElement Frame(Fingering fingering)
    {
        var shape = fingering.Shape;
        var first = shape.HighestStopped <= 4 ? 1 : shape.LowestStopped;
        return new XElement("frame",
            new XElement("frame-strings", GuitarStrings),
            new XElement("frame-frets", Math.Max(4, shape.HighestStopped - first + 1)),
            first > 1 ? new XElement("first-fret", first) : null,
            // From the highest string, number 1, to the lowest.
            Enumerable.Range(0, shape.StringCount).Reverse().Where(s => shape[s] >= 0).Select(s => new XElement("frame-note",
                new XElement("string", shape.StringCount - s), new XElement("fret", shape[s]),
                fingering.Fingers[s] is var finger and not Finger.None
                    ? new XElement("fingering",
                        finger == Finger.Thumb ? "T" : ((int)finger).ToString(CultureInfo.InvariantCulture))
                    : null,
                fingering.Barres.FirstOrDefault(
                        b => b.Finger == fingering.Fingers[s] && b.Fret == shape[s]) is { Length: > 1 } barre
                    && (s == barre.LowString || s == barre.HighString)
                    ? new XElement("barre", new XAttribute("type", s == barre.HighString ? "start" : "stop")) : null)));
    }
}
