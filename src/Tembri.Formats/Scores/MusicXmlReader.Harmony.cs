using System.Xml;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <content>Chord symbols, and signs that stand for those of measures before.</content>
internal sealed partial class MusicXmlReader
{
    /// <summary>A sign for the measure before once more, or for the two before, stands for their chords.</summary>
    private void RepeatChords(XElement element, ScoreMeasure measure)
    {
        if (element.Elements("attributes").Elements("measure-style").Elements("measure-repeat").LastOrDefault() is { } sign)
            _again = sign.Attribute("type")?.Value == "start" && Whole(sign.Value) is >= 1 and <= 8 and var back ? back : 0;
        if (_again > 0 && measure.Chords.Count == 0 && _measures.Count > _again)
            measure.Chords.AddRange(_measures[^(_again + 1)].Chords);
    }

    private void ReadHarmony(XElement harmony, ScoreMeasure measure, double position)
    {
        // An offset of one division back is a chord that comes pushed, before the beat it stands at.
        var offset = Beats(Value(harmony, "offset"), measure.Meter);
        var early = Math.Abs(offset + 1.0 / measure.Meter.Division) < 1e-6;
        var at = Math.Max(0, Beats(position, measure.Meter) + (early ? 0 : offset));
        var kind = harmony.Element("kind");
        var text = kind?.Attribute("text")?.Value;
        var (line, column) = (((IXmlLineInfo)harmony).LineNumber, ((IXmlLineInfo)harmony).LinePosition);
        Slot Make(string symbol, Chord? chord) => new(symbol, chord, 0, "", line, column) { IsEarly = early };
        if (kind?.Value.Trim() == "none") { measure.Chords.Add((at, Make("N.C.", null))); return; }
        var root = NoteOf(harmony.Element("root"), "root-");
        if (root is null)
        {
            Problem(harmony, "This chord symbol has no root; numbers and functions are not read. Write it as a letter.");
            measure.Chords.Add((at, Make(text is { Length: > 0 } ? text : "?", null)));
            return;
        }
        var degrees = harmony.Elements("degree").Select(d => (
            Number: Whole(d.Element("degree-value")?.Value) ?? 0, Alteration: Whole(d.Element("degree-alter")?.Value) ?? 0,
            Type: d.Element("degree-type")?.Value.Trim() ?? "add"))
            .Where(d => d.Number is > 0 and < 14 && d.Alteration is >= -2 and <= 2).Take(12).ToList();
        var chord = Known(root.Value, kind?.Value.Trim() ?? "major", degrees, NoteOf(harmony.Element("bass"), "bass-"), text);
        if (chord is { Bass: null } && Whole(harmony.Element("inversion")?.Value) is >= 1 and <= 3 and var inversion)
            chord = ChordKinds.Inverted(chord, inversion);
        if (chord is not null) chord = chord.MoveFifths(FifthsSince);
        if (chord is not null) measure.Chords.Add((at, Make(chord.Name, chord)));
        else
        {
            var symbol =
                kind?.Value.Trim() == "other" && text is { Length: > 0 } ? text : root.Value + (text ?? kind?.Value ?? "");
            Problem(harmony,
                $"The chord {symbol} in measure {measure.Number} is of a kind that is not known "
                    + "here; write the symbol it should be.");
            measure.Chords.Add((at, Make(symbol, null)));
        }
    }

    /// <summary>Steps along the line of fifths a part was moved by since it began: an instrument was changed, or a capo moved
    /// up.</summary>
    private int FifthsSince =>
        _transpose.Semitones == _first.Semitones
            ? 0
            : _key.Transpose(_first.Semitones).FifthsTo(_key.Transpose(_transpose.Semitones));

    private readonly Dictionary<string, Chord?> _known = [];

    private Chord? Known(Note root, string kind, List<(int Number, int Alteration, string Type)> degrees, Note? bass,
        string? text)
    {
        var name = $"{root}/{bass} {kind} {text} {string.Join(' ', degrees)}";
        if (!_known.TryGetValue(name, out var chord)) _known[name] = chord = ChordKinds.Make(root, kind, degrees, bass, text);
        return chord;
    }
}
