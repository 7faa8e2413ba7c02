using System.Globalization;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Formats.Scores;

/// <summary>Writes a chart as MusicXML 4.0: one guitar part with chord symbols, the tune where there is one, else slashes,
/// words, sections as rehearsal marks, repeats.</summary>
/// <remarks>The form is written out in playing order; a section played several times in a row is repeated by bar
/// lines.</remarks>
internal sealed partial class MusicXmlWriter
{
    private readonly Chart _chart;
    private readonly VersionChart? _version;
    private Meter _meter;
    private int _number;
    private bool _lifted;
    private readonly Dictionary<Chord, (string Kind, IReadOnlyList<(int Number, int Alteration, string Type)> Degrees)> _kinds =
        [];

    private MusicXmlWriter(Chart chart, VersionChart? version) => (_chart, _version) = (chart, version);

    /// <summary>Writes the record's chart.</summary>
    public static byte[] Write(Chart chart) => new MusicXmlWriter(chart, null).Document();

    /// <summary>Writes a version, with the shape of every chord.</summary>
    public static byte[] Write(VersionChart version) => new MusicXmlWriter(version.Chart, version).Document();

    private byte[] Document()
    {
        // Measures are made as they are written, so that a long song needs no more memory than a short one.
        var score = new XStreamingElement("score-partwise", new XAttribute("version", "4.0"),
                _chart.Title.Length > 0 ? new XElement("work", new XElement("work-title", _chart.Title)) : null,
                new XElement("identification", new XElement("encoding", new XElement("software", "Tembri")), Miscellaneous()),
                new XElement("part-list",
                    new XElement("score-part", new XAttribute("id", "P1"), new XElement("part-name", "Guitar"))),
                new XStreamingElement("part", new XAttribute("id", "P1"), Measures()));
        using var bytes = new MemoryStream();
        using (var writer = XmlWriter.Create(bytes, new XmlWriterSettings { Indent = true, Encoding = new UTF8Encoding(false) }))
        {
            writer.WriteStartDocument();
            writer.WriteDocType("score-partwise", "-//Recordare//DTD MusicXML 4.0 Partwise//EN",
                "http://www.musicxml.org/dtds/partwise.dtd", null);
            score.WriteTo(writer);
        }
        return bytes.ToArray();
    }

    /// <summary>What the standard has no element for is kept in its own place for such things.</summary>
    private XElement? Miscellaneous()
    {
        var fields = ChartFields.Of(_chart).ToList();
        if (_version is { TuningShift: not 0 } version)
            fields.Add(("tuning", version.TuningShift.ToString(CultureInfo.InvariantCulture)));
        return fields.Count == 0
            ? null
            : new XElement("miscellaneous",
                fields.Select(f => new XElement("miscellaneous-field", new XAttribute("name", f.Name), f.Value)));
    }

    private IEnumerable<XElement> Measures()
    {
        foreach (var part in _chart.Form)
        {
            if (_chart.SectionNamed(part.Section) is not { } section) continue;
            for (var i = 0; i < section.Bars.Count; i++)
                yield return Measure(section, i, i == 0, i == section.Bars.Count - 1, part.Times);
        }
    }

    private Loudness _loudness;   // as the score says it last

    private XElement Measure(Section section, int index, bool first, bool last, int times)
    {
        var bar = section.Bars[index];
        var measure = new XElement("measure", new XAttribute("number", (++_number).ToString(CultureInfo.InvariantCulture)));
        // A pickup stands under the meter of the song, and the standard does not count it.
        var isPickup = _number == 1 && bar.Meter != _chart.Meter && NoteValues.OfBar(bar.Meter) < NoteValues.OfBar(_chart.Meter);
        if (isPickup) measure.Add(new XAttribute("implicit", "yes"));
        if (first && times > 1)
            measure.Add(new XElement("barline", new XAttribute("location", "left"), new XElement("bar-style", "heavy-light"),
                new XElement("repeat", new XAttribute("direction", "forward"))));
        if (bar.StartsLine && _number > 1) measure.Add(new XElement("print", new XAttribute("new-system", "yes")));
        var attributes = Attributes(isPickup ? _chart.Meter : bar.Meter);
        if (first && !_lifted && _version?.Lift is { } lift && section == _chart.Sections[lift.Section])
        {
            // From here on the capo stands higher: the part sounds so much higher than it is written.
            _lifted = true;
            attributes ??= new XElement("attributes");
            attributes.Add(new XElement("staff-details", new XElement("capo", _version.Capo + lift.Semitones)),
                new XElement("transpose", new XElement("chromatic", _version.RaisedIn(lift.Section))));
        }
        if (attributes is not null) measure.Add(attributes);
        if (first) measure.Add(Direction(new XElement("rehearsal", section.Name)));
        if (_number == 1) measure.Add(Tempo(), Scordatura());
        if (first && (section.Hand.Loudness != _loudness))
            measure.Add(Direction(new XElement("dynamics",
                new XElement(
                    (_loudness = section.Hand.Loudness) switch { Loudness.Soft => "p", Loudness.Loud => "f", _ => "mf" }))));
        foreach (var remark in bar.Remarks) measure.Add(Direction(new XElement("words", remark)));
        if (bar.Lead.Length > 0)
            measure.Add(new XElement("direction", new XAttribute("placement", "below"),
                new XElement("direction-type", new XElement("words", new XAttribute("font-style", "italic"), bar.Lead))));
        Fill(measure, bar);
        foreach (var figure in section.Figures) FigureNotes.Add(measure, section, figure, index, _version);
        if (last && times > 1)
            measure.Add(new XElement("barline", new XAttribute("location", "right"), new XElement("bar-style", "light-heavy"),
                new XElement("repeat", new XAttribute("direction", "backward"), new XAttribute("times", times))));
        return measure;
    }

    private static XElement Direction(XElement what) =>
        new("direction", new XAttribute("placement", "above"), new XElement("direction-type", what));

    private XElement Tempo()
    {
        // A metronome mark counts what players count; the sound counts quarters.
        var quarters = _chart.Tempo * NoteValues.OfBeat(_chart.Meter) / NoteValues.Quarter;
        var unit = _chart.Meter.IsCompound
            ? _chart.Meter.Unit switch { 8 => "quarter", 16 => "eighth", _ => "half" }
            : _chart.Meter.Unit switch { 1 => "whole", 2 => "half", 8 => "eighth", 16 => "16th", _ => "quarter" };
        return new XElement("direction", new XAttribute("placement", "above"),
            new XElement("direction-type",
                new XElement("metronome", new XElement("beat-unit", unit),
                    _chart.Meter.IsCompound ? new XElement("beat-unit-dot") : null,
                    new XElement("per-minute", Number(_chart.Tempo)))),
            new XElement("sound", new XAttribute("tempo", Number(quarters))));
    }

    /// <summary>How the strings are tuned, where it is not the usual way.</summary>
    private XElement? Scordatura()
    {
        var strings = _chart.Strings.Shift(_version?.TuningShift ?? _chart.TuningShift);
        return strings.Equals(Tuning.Standard)
            ? null
            : Direction(new XElement("scordatura",
                strings.Strings.Select((midi, i) => (Pitch: FigureLine.PitchOf(midi), Number: strings.Strings.Count - i))
                    .Select(s =>
            new XElement("accord", new XAttribute("string", s.Number), new XElement("tuning-step", s.Pitch.Note.ToString()[..1]),
                s.Pitch.Note.Accidental == 0 ? null : new XElement("tuning-alter", s.Pitch.Note.Accidental),
                new XElement("tuning-octave", s.Pitch.Octave)))));
    }

    private static string Number(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);

    private XElement? Attributes(Meter meter)
    {
        var begins = _number == 1;
        if (!begins && meter == _meter) return null;
        _meter = meter;
        var attributes = new XElement("attributes");
        if (begins)
        {
            attributes.Add(new XElement("divisions", NoteValues.Quarter));
            attributes.Add(new XElement("key", new XElement("fifths", Math.Clamp(_chart.Key.Signature, -7, 7)),
                new XElement("mode", _chart.Key.IsMinor ? "minor" : "major")));
        }
        attributes.Add(new XElement("time", new XElement("beats", meter.Count), new XElement("beat-type", meter.Unit)));
        if (!begins) return attributes;
        attributes.Add(new XElement("clef", new XElement("sign", "G"), new XElement("line", 2)));
        if (_version is { } version)
        {
            if (version.Capo > 0) attributes.Add(new XElement("staff-details", new XElement("capo", version.Capo)));
            if (version.Raised != 0) attributes.Add(new XElement("transpose", new XElement("chromatic", version.Raised)));
        }
        return attributes;
    }

    /// <summary>Chord symbols and notes in the order of time.</summary>
    private void Fill(XElement measure, Bar bar)
    {
        var beat = NoteValues.OfBeat(bar.Meter);
        int Parts(double beats) => (int)Math.Round(beats * beat);
        var length = Parts(bar.Beats);
        var chords = new List<(int At, Slot Slot)>();
        var at = 0.0;
        foreach (var slot in bar.Slots)
        {
            chords.Add((Parts(at), slot));
            at += slot.Beats;
        }
        var words = new Queue<(int At, string Text)>();
        at = 0;
        foreach (var slot in bar.Slots)
        {
            if (slot.Lyric.Trim().Length > 0) words.Enqueue((Parts(at), slot.Lyric));
            at += slot.Beats;
        }
        var notes = bar.Melody.Count > 0
            ? bar.Melody.Select(
                    n => (From: Parts(n.At), To: Math.Min(length, Parts(n.At + n.Beats)), Pitch: (Pitch?)n.Pitch, IsRest: false))
                .Where(n => n.To > n.From).ToList()
            : Slashes(bar, Parts);
        var time = 0;
        foreach (var note in notes.Append((From: length, To: length, Pitch: null, IsRest: true)))
        {
            if (note.From > time)
            {
                Add(measure, bar.Meter, time, note.From, null, isRest: true, chords, words);
                time = note.From;
            }
            if (note.To > time)
            {
                Add(measure, bar.Meter, time, note.To, note.Pitch, note.IsRest, chords, words);
                time = note.To;
            }
        }
        foreach (var (when, slot) in chords) AddHarmony(measure, slot, when - time, bar.Meter);
    }

    private static List<(int From, int To, Pitch? Pitch, bool IsRest)> Slashes(Bar bar, Func<double, int> parts)
    {
        var slashes = new List<(int, int, Pitch?, bool)>();
        var at = 0.0;
        foreach (var slot in bar.Slots)
        {
            slashes.Add((parts(at), parts(at + slot.Beats), null, slot.IsSilence));
            at += slot.Beats;
        }
        return slashes;
    }

    private void Add(XElement measure, Meter meter, int from, int to, Pitch? pitch, bool isRest,
        List<(int At, Slot Slot)> chords, Queue<(int At, string Text)> words)
    {
        while (chords.Count > 0 && chords[0].At < to)
        {
            AddHarmony(measure, chords[0].Slot, chords[0].At - from, meter);
            chords.RemoveAt(0);
        }
        var lyric = "";
        while (words.Count > 0 && words.Peek().At < to) lyric += words.Dequeue().Text;
        var sung = Lyric(lyric, goesOn: words.Count > 0);
        var values = NoteValues.Of(to - from);
        for (var i = 0; i < values.Count; i++)
        {
            var (value, ties) = (values[i], !isRest && pitch is not null && values.Count > 1);
            var sounds = pitch ?? new Pitch(Note.Of('B'), 4);
            measure.Add(new XElement("note",
                isRest ? new XElement("rest") : PitchOf(sounds),
                new XElement("duration", value.Parts),
                ties && i > 0 ? new XElement("tie", new XAttribute("type", "stop")) : null,
                ties && i < values.Count - 1 ? new XElement("tie", new XAttribute("type", "start")) : null,
                new XElement("voice", 1), new XElement("type", value.Type), value.Dotted ? new XElement("dot") : null,
                value.Triplet
                    ? new XElement("time-modification", new XElement("actual-notes", 3), new XElement("normal-notes", 2))
                    : null,
                isRest || pitch is not null ? null : new XElement("stem", "none"),
                isRest || pitch is not null ? null : new XElement("notehead", "slash"),
                ties
                    ? new XElement("notations", i > 0 ? new XElement("tied", new XAttribute("type", "stop")) : null,
                        i < values.Count - 1 ? new XElement("tied", new XAttribute("type", "start")) : null)
                    : null,
                i == 0 ? sung : null));
        }
    }

    private bool _inWord;   // whether the words written last are the beginning of one that goes on

    /// <summary>Words of a note; null for none. A word that goes on at the next chord has no space behind it, one that goes on
    /// in the next bar a hyphen.</summary>
    private XElement? Lyric(string words, bool goesOn)
    {
        var text = words.Trim();
        if (text.Length == 0) return null;
        var came = _inWord;
        var isCut = !goesOn && text.Length > 1 && text[^1] == '-' && char.IsLetter(text[^2]);
        _inWord = isCut || goesOn && !char.IsWhiteSpace(words[^1]);
        return new XElement("lyric", new XAttribute("number", 1),
            new XElement("syllabic", (came, _inWord) switch { (true, true) => "middle", (true, false) => "end", (false, true) => "begin", _ => "single" }),
            new XElement("text", isCut ? text[..^1] : text));
    }

    internal static XElement PitchOf(Pitch pitch) => new("pitch", new XElement("step", pitch.Note.Letter.ToString()),
        pitch.Note.Accidental != 0 ? new XElement("alter", pitch.Note.Accidental) : null, new XElement("octave", pitch.Octave));
}
