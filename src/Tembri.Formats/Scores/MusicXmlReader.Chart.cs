using System.Globalization;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats.Scores;

// What was read of a score, as a chart: in the order it is played, in the key it sounds in.
internal sealed partial class MusicXmlReader
{
    private const double SmallestTitle = 14;   // points; words and names of people are smaller

    private Chart ToChart(XElement root)
    {
        var fields = root.Elements("identification").Elements("miscellaneous").Elements("miscellaneous-field")
            .Select(f => (Name: f.Attribute("name")?.Value ?? "", Value: f.Value.Trim())).ToList();
        var bars = new List<(string? Section, Bar Bar)>();
        var played = PlayingOrder.Of(_measures, (measure, message) => _problems.Add(measure.Line, 1, message));
        SayVerses(played);
        var maker = new BarMaker();
        var names = Names();
        for (var i = 0; i < played.Count; i++)
        {
            var (measure, pass, arrived) = played[i];
            // Where a jump arrives a section begins again, by the name it has.
            bars.Add((measure.Section
                    ?? (arrived && (pass > 1 || measure.Jumps.HasFlag(ScoreJump.Coda)) ? names[measure] : null),
                ToBar(measure, pass, i + 1 < played.Count ? played[i + 1].Measure : null, maker)));
        }
        var title = TitleOf(root);
        var meter = _firstMeter ?? Meter.Common;
        // Fields of our own tell of figures and tuning in words; what other programs write stands in the notes.
        var figures = fields.Any(f => ChartFields.IsFigure(f.Name)) ? null : _figures;
        var numbers = _measures.Select((m, i) => (m, i)).ToDictionary(x => x.m, x => x.i);
        var (sections, form, starts) =
            Sections.Cut(bars, figures is null ? null : i => figures.Written(numbers[played[i].Measure]));
        var chart = new Chart { Title = title, Meter = meter, Sections = sections, Form = form, KeyIsGiven = _keyGiven };
        if (_quarters is { } quarters)
            chart = chart
                with { Tempo = Math.Clamp(Math.Round(quarters * NoteValues.Quarter / NoteValues.OfBeat(meter), 2), 20, 320) };
        chart = ChartTidy.Tidy(ChartFields.Put(chart, fields), _problems);
        if (!_keyGiven || _openSignature is not null)
        {
            var sounding = chart.Played().Select(s => s.Chord).OfType<Chord>().ToList();
            chart = chart with
            {
                Key = _openSignature is { } signature ? KeyFinder.OfSignature(signature, sounding) : KeyFinder.Guess(sounding)
            };
        }
        else chart = chart with { Key = _key };
        // The tune of another part, or one written an octave away, is brought to where the chords stand.
        var target = chart.Key.Transpose(_transpose.Semitones);
        var chordsMove = _transpose.Semitones % 12 != 0;
        var (fifths, semitones) = chordsMove ? (chart.Key.FifthsTo(target), _transpose.Semitones) : (0, 0);
        chart = ChartTransposer.MoveTune(chart, _tuneTranspose.Fifths - fifths, _tuneTranspose.Semitones - semitones);
        // Written for a capo or a tuned guitar: what sounds is moved.
        if (chordsMove) chart = ChartTransposer.Move(chart, target, semitones);
        if (_capo > 0) chart = chart with { RecordCapo = _capo };
        if (_tuning is { } tuning && fields.All(f => f.Name != "tuning"))
        {
            var (strings, shift) = tuning.Apart();
            chart = chart with { Strings = strings, TuningShift = shift };
        }
        return figures is null ? chart : figures.PutInto(chart, [.. played.Select(p => numbers[p.Measure])], starts, _problems);
    }

    /// <summary>The title, by the first place that has one: the work's, the movement's, what is printed as such, else what is
    /// printed largest at the top.</summary>
    private static string TitleOf(XElement root)
    {
        var printed = root.Elements("credit").Where(c => c.Attribute("page")?.Value is null or "1").ToList();
        return new[] { root.Element("work")?.Element("work-title"), root.Element("movement-title") }
            .Concat(printed.Where(c => c.Elements("credit-type").Any(t => t.Value.Trim() == "title")).Elements("credit-words"))
            .Concat(printed.Where(c => c.Element("credit-type") is null).Elements("credit-words")
                .Where(w => Size(w) >= SmallestTitle).OrderByDescending(Size))
            .Select(t => t?.Value.Trim() ?? "").FirstOrDefault(t => t.Length > 0) ?? "";

        static double Size(XElement words) =>
            double.TryParse(words.Attribute("font-size")?.Value, NumberStyles.Float, CultureInfo.InvariantCulture, out var size) ? size : 0;
    }

    /// <summary>The name of the section each measure stands in.</summary>
    private Dictionary<ScoreMeasure, string> Names()
    {
        var (names, name) = (new Dictionary<ScoreMeasure, string>(), "Song");
        foreach (var measure in _measures)
            names[measure] = name = measure.Section ?? (measure.Jumps.HasFlag(ScoreJump.Coda) ? "Coda" : name);
        return names;
    }

    /// <summary>Says which verses are printed but have no pass of their own.</summary>
    private void SayVerses(IReadOnlyList<(ScoreMeasure Measure, int Pass, bool Arrived)> played)
    {
        var passes = played.GroupBy(p => p.Measure).ToDictionary(g => g.Key, g => g.Max(p => p.Pass));
        var left = _measures.SelectMany(
                m => m.Words.Where(w => w.Verse > passes.GetValueOrDefault(m)).Select(w => (w.Verse, m.Line))).ToList();
        if (left.Count == 0) return;
        var verses = left.Select(l => l.Verse).Distinct().Order().ToList();
        var named = verses.Count == 1 ? $"verse {verses[0]} are" : $"verses {verses[0]} to {verses[^1]} are";
        _problems.Add(left[0].Line, 1,
            $"The words of {named} printed below music that is played fewer times; they are left out. Write the section as "
                + "often as it is sung to add them.");
    }

    private static Bar ToBar(ScoreMeasure measure, int pass, ScoreMeasure? next, BarMaker maker)
    {
        // In the second pass the second verse is sung; where no verse is printed for a pass, the last one before it.
        var verse = measure.Words.Where(w => w.Verse <= pass).Select(w => w.Verse).DefaultIfEmpty(1).Max();
        var meter = measure.Meter;
        // A measure whose notes take next to no time is as long as its meter has it.
        var length = measure.Length >= 1.0 / NoteValues.Quarter && Math.Abs(measure.Length - meter.Beats) > 1e-6
            ? measure.Length
            : meter.Beats;
        var slots = maker.Next(
            [.. measure.Chords.OrderBy(c => c.At).Where(c => c.At < length - 1e-6).Take(ChartLimits.MostChordsInBar)], length,
            meter, lineIsFree: next is not null && next.Chords.All(c => c.At > 1e-6));
        // Words go to the chord they are sung on; those before the first chord lead in.
        var at = 0.0;
        for (var i = 0; i < slots.Count; i++)
        {
            var (from, to) = (at, at += slots[i].Beats);
            // The space behind a word stays, by which the next chord's is told from the same word going on.
            slots[i] = slots[i] with { Lyric = string.Concat(
                    measure.Words.Where(w => w.Verse == verse && w.At >= from - 1e-6 && w.At < to - 1e-6).Select(w => w.Text)) };
        }
        // A word that goes on in the next bar has a hyphen.
        if (slots.FindLastIndex(s => s.Lyric.Length > 0) is >= 0 and var last)
        {
            var sung = slots[last].Lyric;
            slots[last] = slots[last] with { Lyric = sung.EndsWith(' ') || sung.EndsWith('-') ? sung.TrimEnd() : sung + "-" };
        }
        return new Bar(meter, slots, measure.StartsLine, measure.Lead) { Melody = measure.Tune, Remarks = measure.Remarks };
    }
}
