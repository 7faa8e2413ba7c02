using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using static Tembri.Formats.ScoreXml;

namespace Tembri.Formats;

/// <summary>Reads chords, form, words and tune from MusicXML, partwise, any version up to 4.0.</summary>
/// <remarks>Nothing outside the file is ever fetched and no entities are expanded. What cannot be read is listed, the rest is
/// kept.</remarks>
internal sealed partial class MusicXmlReader
{
    private const int DeepestElement = 60;
    private const int MostNodes = 400_000;       // elements and attributes; a long piano score has about 100,000
    private const int MostWordsInMeasure = 200;
    private readonly ProblemList _problems = new();
    private readonly List<ScoreMeasure> _measures = [];
    private Meter _meter = Meter.Common;
    private Key _key;
    private bool _keyGiven;
    private double? _quarters;
    private Meter? _firstMeter;
    private int _divisions = 1;
    private Moved _transpose, _tuneTranspose;
    private bool _atStart;  // of a part
    private Moved _first;   // where the part begins; what comes later is told against it
    private Key? _laterKey;
    private int _capo;
    private bool _isSung;
    private FigureReader? _figures;
    private Core.Fretboard.Tuning? _tuning;

    /// <summary>How much higher a part sounds than it is written.</summary>
    private readonly record struct Moved(int Semitones, int? Steps)
    {
        /// <summary>Steps along the line of fifths: seven for every semitone, less twelve for every letter.</summary>
        public int Fifths => Steps is { } steps ? 7 * Semitones - 12 * steps : (7 * Semitones % 12 + 17) % 12 - 5;
    }

    /// <summary>Reads a document.</summary>
    /// <param name="stream">The XML.</param>
    /// <param name="cancel">Ends the reading.</param>
    /// <exception cref="FormatException">It is no MusicXML, or not well-formed, or too deep.</exception>
    public static ChartReading Read(Stream stream, CancellationToken cancel = default)
    {
        try
        {
            using var reader = XmlReader.Create(stream, new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Ignore, XmlResolver = null, MaxCharactersFromEntities = 0,
                MaxCharactersInDocument = ChartFiles.LargestUnpacked, IgnoreComments = true, IgnoreProcessingInstructions = true,
            });
            using var shallow = new ShallowXmlReader(reader, DeepestElement, MostNodes, cancel);
            return new MusicXmlReader().ReadAll(XDocument.Load(shallow, LoadOptions.SetLineInfo));
        }
        catch (XmlException e)
        {
            throw new FormatException($"The XML breaks off or is damaged at line {e.LineNumber}: {e.Message.Split(" Line ")[0]}",
                e);
        }
    }

    private void Problem(XElement at, string message) =>
        _problems.Add(((IXmlLineInfo)at).LineNumber, Math.Max(1, ((IXmlLineInfo)at).LinePosition), message);

    private ChartReading ReadAll(XDocument document)
    {
        if (document.Root is not { } root || root.Name.LocalName != "score-partwise")
            throw new FormatException(document.Root?.Name.LocalName == "score-timewise"
                ? "This is timewise MusicXML; save it partwise, as nearly every program does."
                : "This XML is not MusicXML; it should begin with score-partwise.");
        var parts = root.Elements("part").ToList();
        if (parts.Count == 0) throw new FormatException("This MusicXML has no part.");
        var chords = parts.MaxBy(p => p.Descendants("harmony").Count())!;
        var tune = parts.FirstOrDefault(p => p.Descendants("lyric").Any()) ?? parts[0];
        _isSung = tune.Descendants("lyric").Any();
        foreach (var measure in chords.Elements("measure")) ReadMeasure(measure, readTune: ReferenceEquals(chords, tune));
        _transpose = _tuneTranspose = _first;
        if (!ReferenceEquals(chords, tune)) AddTune(tune);
        if (_measures.All(m => m.Chords.Count == 0))
            _problems.Add(1, 1,
                "This MusicXML has no chord symbols, so there is nothing to arrange; add them in the program it comes from.");
        _figures = FigureReader.Of(parts, _measures);
        _capo = ScoreStrings.CapoOf(chords) ?? _figures?.Capo ?? 0;
        _tuning = _figures?.Tuning ?? parts.Select(p => ScoreStrings.TuningOf(p)).FirstOrDefault(t => t is not null);
        if (_tuning is not null && !ScoreStrings.IsGuitars(_tuning))
        {
            _problems.Add(1, 1,
                $"The strings of this score are tuned to {_tuning.Name}, which is no guitar's; chords, words and tune are read, "
                    + "what it writes with strings and frets is left out.");
            (_tuning, _figures) = (null, null);
        }
        var chart = ToChart(root);
        return new ChartReading(chart, _problems.ToList());
    }

    private void AddTune(XElement part)
    {
        (_divisions, var at) = (1, 0);
        var keep = (_meter, _key, _keyGiven, _transpose, _laterKey);
        (_transpose, _first) = (default, default);
        foreach (var measure in part.Elements("measure"))
        {
            if (at >= _measures.Count) break;
            _atStart = at == 0;
            ReadNotes(measure, _measures[at++], tune: true, chords: false);
        }
        _tuneTranspose = _first;
        (_meter, _key, _keyGiven, _transpose, _laterKey) = keep;
    }

    private void ReadMeasure(XElement element, bool readTune)
    {
        var measure = new ScoreMeasure
        {
            Number = element.Attribute("number")?.Value ?? "", Line = ((IXmlLineInfo)element).LineNumber, Meter = _meter
        };
        if (_measures.Count >= ChartLimits.MostBars)
        {
            if (_measures.Count == ChartLimits.MostBars)
                Problem(element, $"A chart has at most {ChartLimits.MostBars:N0} bars; what follows is left out.");
            return;
        }
        _measures.Add(measure);
        _atStart = _measures.Count == 1;
        ReadNotes(element, measure, readTune, chords: true);
        measure.Meter = _meter;
    }

    private void ReadNotes(XElement element, ScoreMeasure measure, bool tune, bool chords)
    {
        double position = 0, last = 0;   // in divisions
        var tieOpen = false;
        var voice = "";
        foreach (var item in element.Elements())
        {
            switch (item.Name.LocalName)
            {
                case "attributes": ReadAttributes(item); measure.Meter = _meter; break;
                case "print": measure.StartsLine |= item.Attribute("new-system")?.Value == "yes"; break;
                case "direction" when chords: ReadDirection(item, measure); break;
                case "sound" when chords: ReadTempo(item); measure.Jumps |= JumpOf(item); break;
                case "barline" when chords: ReadBarline(item, measure); break;
                case "harmony" when chords && measure.Chords.Count <= ChartLimits.MostChordsInBar:
                    ReadHarmony(item, measure, position); break;
                case "backup": position -= Value(item, "duration"); break;
                case "forward": position += Value(item, "duration"); break;
                case "note":
                    var duration = Value(item, "duration");
                    var isChord = item.Element("chord") is not null;
                    var start = isChord ? last : position;
                    if (!isChord) (last, position) = (position, position + duration);
                    measure.Length = Math.Max(measure.Length, Beats(position, measure.Meter));
                    if (!tune || isChord || item.Element("grace") is not null) break;
                    // A riff is no tune.
                    if (!_isSung && FigureReader.PlaceOf(item) is not null) break;
                    var own = item.Element("voice")?.Value ?? "1";
                    if (voice.Length == 0) voice = own;
                    if (own != voice) break;
                    ReadTuneNote(item, measure, start, duration, ref tieOpen);
                    break;
            }
        }
        measure.Length = Math.Max(measure.Length, Beats(position, measure.Meter));
    }

    private double Beats(double divisions, Meter meter) => ScoreXml.Beats(divisions, _divisions, meter);

    private void ReadAttributes(XElement attributes)
    {
        if (Whole(attributes.Element("divisions")?.Value) is > 0 and var divisions) _divisions = divisions;
        if (attributes.Element("time") is { } time)
        {
            if (Meter.TryParse($"{time.Element("beats")?.Value}/{time.Element("beat-type")?.Value}", out var meter))
                _meter = meter;
            else if (time.Element("senza-misura") is null)
                Problem(time,
                    $"The meter {time.Element("beats")?.Value}/{time.Element("beat-type")?.Value} is not "
                        + $"known here; {_meter} stays.");
            _firstMeter ??= _meter;
        }
        if (attributes.Element("key") is { } key && Whole(key.Element("fifths")?.Value) is >= -7 and <= 7 and var fifths)
        {
            var minor = key.Element("mode") is { } mode ? mode.Value.Trim() == "minor" : (_laterKey ?? _key).IsMinor;
            ReadKey(key, new Key(new Note(fifths + (minor ? 3 : 0)), minor));
        }
        if (attributes.Element("transpose") is { } transpose)
        {
            var octaves = Math.Clamp(Whole(transpose.Element("octave-change")?.Value) ?? 0, -4, 4);
            var semitones = Math.Clamp(Whole(transpose.Element("chromatic")?.Value) ?? 0, -36, 36);
            var steps =
                Whole(transpose.Element("diatonic")?.Value) is >= -21 and <= 21 and var given ? given + 7 * octaves : (int?)null;
            _transpose = new Moved(semitones + 12 * octaves, steps);
            if (_atStart) _first = _transpose;
        }
    }

    private void ReadKey(XElement at, Key key)
    {
        if (!_keyGiven) { (_key, _keyGiven) = (key, true); return; }
        if (key == (_laterKey ?? _key)) return;
        if (_laterKey is null)
            Problem(at,
                $"From measure {_measures[^1].Number} on the signature is that of {key}. A chart has one key, {_key}; the "
                    + "chords are kept as they are.");
        _laterKey = key;
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

    private void ReadTuneNote(XElement note, ScoreMeasure measure, double start, double duration, ref bool tieOpen)
    {
        var at = Beats(start, measure.Meter);
        foreach (var (lyric, index) in note.Elements("lyric").Select((l, i) => (l, i)))
        {
            if ((Whole(lyric.Attribute("number")?.Value) ?? index + 1) is not (>= 1 and <= ChartLimits.MostTimes and var verse))
                continue;
            var syllabic = lyric.Element("syllabic")?.Value;
            var text = string.Concat(lyric.Elements().Where(e => e.Name.LocalName is "text" or "elision")
                .Select(e => e.Name.LocalName == "elision" ? " " : e.Value));
            if (text.Length > 0 && measure.Words.Count < MostWordsInMeasure)
                measure.Words.Add((at, verse, text + (syllabic is "begin" or "middle" ? "" : " ")));
        }
        var isSlash = note.Element("notehead")?.Value is "slash" or "none";
        if (note.Element("rest") is not null || isSlash || note.Element("pitch") is not { } pitch || duration <= 0)
        {
            tieOpen = false;
            return;
        }
        if (PitchOf(pitch) is not { } sung) return;
        var beats = Beats(duration, measure.Meter);
        var stops = note.Elements("tie").Any(t => t.Attribute("type")?.Value == "stop");
        if (stops && tieOpen && measure.Tune.Count > 0 && Math.Abs(measure.Tune[^1].At + measure.Tune[^1].Beats - at) < 1e-6)
            measure.Tune[^1] = measure.Tune[^1] with { Beats = measure.Tune[^1].Beats + beats };
        else if (measure.Tune.Count <= ChartLimits.MostNotesInBar)
            measure.Tune.Add(new MelodyNote(sung.Move(FifthsSince, _transpose.Semitones - _first.Semitones), at, beats));
        tieOpen = note.Elements("tie").Any(t => t.Attribute("type")?.Value == "start");
    }
}
