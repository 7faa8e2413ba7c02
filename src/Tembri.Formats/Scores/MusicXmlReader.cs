using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <summary>Reads chords, form, words and tune from MusicXML, partwise, any version up to 4.0.</summary>
/// <remarks>What cannot be read is listed, the rest is kept.</remarks>
internal sealed partial class MusicXmlReader
{
    private const int MostWordsInMeasure = 200;
    private readonly ProblemList _problems = new();
    private readonly List<ScoreMeasure> _measures = [];
    private Meter _meter = Meter.Common;
    private Key _key;
    private bool _keyGiven;
    private int? _openSignature;
    private double? _quarters;
    private Meter? _firstMeter;
    private int _divisions = 1;
    private Moved _transpose, _tuneTranspose;
    private bool _atStart;  // of a part
    private Moved _first;   // where the part begins; what comes later is told against it
    private Key? _laterKey;
    private int _again;     // how many measures back what is played again stands; 0 for none
    private int _capo;
    private bool _isSung, _chordsAreWords;
    private string? _tuneVoice;
    private FigureReader? _figures;
    private Core.Fretboard.Tuning? _tuning;

    /// <summary>How much higher a part sounds than it is written.</summary>
    private readonly record struct Moved(int Semitones, int? Steps)
    {
        /// <summary>Steps along the line of fifths: seven for every semitone, less twelve for every letter.</summary>
        public int Fifths => Steps is { } steps ? 7 * Semitones - 12 * steps : (7 * Semitones % 12 + 17) % 12 - 5;
    }

    /// <summary>Reads a document.</summary>
    /// <param name="data">The XML.</param>
    /// <param name="cancel">Ends the reading.</param>
    /// <exception cref="FormatException">It is no MusicXML, or not well-formed, or too deep.</exception>
    public static ChartReading Read(byte[] data, CancellationToken cancel = default) =>
        new MusicXmlReader().ReadAll(ScoreDocument.Open(data, cancel));

    private void Problem(XElement at, string message) =>
        _problems.Add(((IXmlLineInfo)at).LineNumber, Math.Max(1, ((IXmlLineInfo)at).LinePosition), message);

    private ChartReading ReadAll(XElement root)
    {
        var parts = root.Elements("part").ToList();
        if (parts.Count == 0) throw new FormatException("This MusicXML has no part.");
        var chords = parts.MaxBy(p => p.Descendants("harmony").Count())!;
        if (!chords.Descendants("harmony").Any() && ScoreChords.Worded(parts) is { } worded) (chords, _chordsAreWords) = (worded, true);
        var tune = parts.FirstOrDefault(p => p.Descendants("lyric").Any()) ?? parts[0];
        _isSung = tune.Descendants("lyric").Any();
        // Signs that hold for everybody are printed above the staff on top, wherever the chord symbols stand.
        var others = parts.Where(p => p != chords).Select(p => p.Elements("measure").GetEnumerator()).ToList();
        _tuneVoice = VoiceOf(tune);
        foreach (var measure in chords.Elements("measure"))
        {
            var before = _measures.Count;
            ReadMeasure(measure, readTune: ReferenceEquals(chords, tune));
            foreach (var other in others)
                if (other.MoveNext() && _measures.Count > before) ReadSigns(other.Current, _measures[^1]);
        }
        _transpose = _tuneTranspose = _first;
        if (!ReferenceEquals(chords, tune)) AddTune(tune);
        if (_measures.All(m => m.Chords.Count == 0))
            ScoreChords.Sounded(parts, _measures, _key, _first.Semitones, m => _problems.Add(1, 1, m));
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

    /// <summary>The voice of a part that has the words; null where nobody sings, or no voices are named.</summary>
    private static string? VoiceOf(XElement part) =>
        part.Elements("measure").Elements("note").Where(n => n.Element("lyric") is not null)
            .GroupBy(n => n.Element("voice")?.Value).MaxBy(g => g.Count())?.Key;

    private void AddTune(XElement part)
    {
        (_divisions, var at) = (1, 0);
        var keep = (_meter, _key, _keyGiven, _transpose, _laterKey, _openSignature);
        (_transpose, _first) = (default, default);
        foreach (var measure in part.Elements("measure"))
        {
            if (at >= _measures.Count) break;
            _atStart = at == 0;
            ReadNotes(measure, _measures[at++], tune: true, chords: false);
        }
        _tuneTranspose = _first;
        (_meter, _key, _keyGiven, _transpose, _laterKey, _openSignature) = keep;
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
        RepeatChords(element, measure);
    }

    private void ReadNotes(XElement element, ScoreMeasure measure, bool tune, bool chords)
    {
        var (tieOpen, end) = (false, 0.0);
        var voice = _tuneVoice is { } sung && element.Elements("note").Any(n => n.Element("voice")?.Value == sung) ? sung : null;
        foreach (var (item, at, duration) in Placed(element))
        {
            switch (item.Name.LocalName)
            {
                case "attributes": ReadAttributes(item); measure.Meter = _meter; break;
                case "print": measure.StartsLine |= item.Attribute("new-system")?.Value == "yes"; break;
                case "direction" when chords && _chordsAreWords && ScoreChords.ChordOf(item) is { } written:
                    measure.Chords.Add((Math.Max(0, Beats(at + Value(item, "offset"), measure.Meter)),
                        new Slot(written.Name, written, 0, "", ((IXmlLineInfo)item).LineNumber, ((IXmlLineInfo)item).LinePosition)));
                    break;
                case "direction" when chords: ReadDirection(item, measure); break;
                case "sound" when chords: ReadTempo(item); measure.Jumps |= JumpOf(item); break;
                case "barline" when chords: ReadBarline(item, measure); break;
                case "harmony" when chords && measure.Chords.Count <= ChartLimits.MostChordsInBar:
                    ReadHarmony(item, measure, at); break;
                case "forward": end = Math.Max(end, Beats(at + duration, measure.Meter)); break;
                case "note":
                    end = Math.Max(end, Beats(at + duration, measure.Meter));
                    if (!tune || item.Element("chord") is not null || item.Element("grace") is not null) break;
                    // A riff is no tune.
                    if (!_isSung && FigureReader.PlaceOf(item) is not null) break;
                    var own = item.Element("voice")?.Value ?? "1";
                    voice ??= own;
                    if (own != voice) break;
                    ReadTuneNote(item, measure, at, duration, ref tieOpen);
                    break;
            }
        }
        measure.Length = Math.Max(measure.Length, end);
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
            // Most signatures say whether they are major or minor; of one that does not the chords tell.
            var mode = key.Element("mode")?.Value.Trim();
            if (!_keyGiven && mode is not ("major" or "minor" or "ionian" or "aeolian")) _openSignature = fifths;
            var minor = mode is not null ? mode is "minor" or "aeolian" : (_laterKey ?? _key).IsMinor;
            ReadKey(key, new Key(new Note(fifths + (minor ? 3 : 0)), minor));
        }
        if (attributes.Element("transpose") is { } transpose)
        {
            var steps = Whole(transpose.Element("diatonic")?.Value) is >= -21 and <= 21 and var given
                ? given + 7 * OctavesOf(transpose)
                : (int?)null;
            _transpose = new Moved(SemitonesOf(transpose), steps);
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
