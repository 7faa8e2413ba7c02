using Tembri.Core.Music;
using Tembri.Core.Chords;

namespace Tembri.Core.Charts.Reading;

/// <summary>Makes a chart that came from a file of another format one that chart text could have given: names in one line,
/// lengths that are numbers, no more of anything than a chart may have.</summary>
/// <remarks>Every reader but that of chart text ends here. What is left out or changed in meaning is said.</remarks>
public static class ChartTidy
{
    private const int LongestWords = 400;      // characters of words sung over one chord
    private const int MostRemarks = 8;
    private const int LongestRemark = 80;
    private const double Hair = 1e-6;
    private const double ShortestBeats = 1.0 / 64;
    private const double LongestBeats = ChartLimits.MostStepsInBar;

    /// <summary>The chart within all limits.</summary>
    /// <param name="chart">The chart as a file had it; its lists may hold anything but null.</param>
    /// <param name="problems">Told what is left out.</param>
    public static Chart Tidy(Chart chart, ProblemList problems)
    {
        // By the names the file has, and by those they have from now on.
        var names = new Dictionary<string, Section>(StringComparer.OrdinalIgnoreCase);
        var sections = Sections(chart, names, problems);
        return chart with
        {
            Title = Name(chart.Title),
            Tempo = chart.Tempo is >= 20 and <= 320 ? chart.Tempo : 90,
            Recordings = [.. chart.Recordings.Take(ChartLimits.MostRecordings).Select(Tidy).Where(t => t.Name.Length > 0)],
            Extra = [.. chart.Extra.Take(ChartLimits.MostExtraLines).Select(ExtraLine).Where(e => e.Name.Length > 0)],
            Sections = sections,
            Form = Form(chart.Form, names, sections, problems),
        };
    }

    private static string Name(string text) => PlainText.Cut(PlainText.OneLine(text), ChartLimits.LongestName);

    private static Recording Tidy(Recording recording) => recording with
    {
        Name = Name(recording.Name).Replace(',', ' '),
        Capo = Math.Clamp(recording.Capo, 0, 11),
        Tuning = Math.Clamp(recording.Tuning, -7, 7),
        Tempo = recording.Tempo is >= 20 and <= 320 ? recording.Tempo : null,
    };

    private static (string Name, string Value) ExtraLine((string Name, string Value) line) =>
        (Name(line.Name).Replace(':', ' '), PlainText.Cut(PlainText.OneLine(line.Value), ChartLimits.LongestLine / 2));

    /// <summary>Words that no chart text would take for a chord or a bar line.</summary>
    private static string Words(string text, int longest)
    {
        var line = PlainText.Clean(text).ReplaceLineEndings(" ").Replace('\t', ' ');
        return PlainText.Cut(
            line.Replace('[', '(').Replace(']', ')').Replace('|', '/').Replace('<', '‹').Replace('>', '›'), longest);
    }

    /// <summary>Words sung; a colon that ends them is one that makes no repeat of the bar line behind it.</summary>
    private static string Sung(string text)
    {
        var words = Words(text, LongestWords);
        return words.TrimEnd() is [.. var before, ':'] ? $"{before}꞉{words[(before.Length + 1)..]}" : words;
    }

    private static List<Section> Sections(Chart chart, Dictionary<string, Section> byName, ProblemList problems)
    {
        var sections = new List<Section>();
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var room = ChartLimits.MostBars;
        foreach (var section in chart.Sections)
        {
            if (sections.Count == ChartLimits.MostSections || section.Bars.Count > room)
            {
                problems.Add(1, 1,
                    $"A chart has at most {ChartLimits.MostSections} sections and {ChartLimits.MostBars:N0} bars; "
                    + $"from {Name(section.Name)} on it is left out.");
                break;
            }
            if (section.Bars.Count == 0) continue;
            room -= section.Bars.Count;
            var written =
                Words(Name(section.Name), ChartLimits.LongestName).Trim(' ', ':') is { Length: > 0 } given ? given : "Song";
            var name = written;
            for (var copy = 2; !taken.Add(name); copy++) name = $"{written} ({copy})";
            var parent = section.Like is { } like && byName.TryGetValue(like, out var known)
                    && known.Bars.Count == section.Bars.Count
                ? known
                : null;
            var tidy = section with
            {
                Name = name, Like = parent?.Name, Strum = ChartTextRun.HandOf(section.Strum)?.ToString() ?? "",
                Bars = [.. section.Bars.Select((b, i) => Bar(b, i, problems, name))],
                Figures = [.. section.Figures.Where(f => f.Bar < section.Bars.Count && f.Notes.Count > 0).Take(FigureText.Most)],
                OwnBars = parent is null
                    ? []
                    : [.. section.OwnBars.Where(n => n >= 1 && n <= section.Bars.Count).Distinct().Order()],
                Words = parent is null
                    ? []
                    : [.. section.Words.Take(section.Bars.Count).Select(w => Words(w, ChartLimits.LongestLine / 2).Trim())],
            };
            sections.Add(tidy);
            byName.TryAdd(section.Name, tidy);
            byName.TryAdd(name, tidy);
        }
        return sections;
    }

    private static Bar Bar(Bar bar, int index, ProblemList problems, string section)
    {
        var slots = bar.Slots.Take(ChartLimits.MostChordsInBar).Select(Slot).ToList();
        var where = $"ar {index + 1} of {section}";
        if (bar.Slots.Count > slots.Count)
            problems.Add(1, 1,
                $"B{where} has {bar.Slots.Count:N0} chords, {ChartLimits.MostChordsInBar} are the most; the rest is left out.");
        var beats = slots.Sum(s => s.Beats);
        if (beats > LongestBeats)
        {
            problems.Add(1, 1, $"B{where} is {beats:N0} beats long, which no bar is; it is read as one of {bar.Meter}.");
            slots = [.. slots.Select(s => s with { Beats = (double)bar.Meter.Beats / slots.Count })];
            beats = bar.Meter.Beats;
        }
        var notes = bar.Melody.Take(ChartLimits.MostNotesInBar).Where(n => n.At >= 0 && n.At < beats && n.Beats > 0)
            .Select(n => n with { Beats = Math.Min(n.Beats, beats - n.At) }).ToList();
        if (bar.Melody.Count > notes.Count)
            problems.Add(1, 1, $"In b{where} the tune has notes outside the bar, or too many; they are left out.");
        if (Math.Abs(beats - bar.Meter.Beats) > Hair && MeterAsLongAs(beats, bar.Meter) is { } own)
        {
            // In chart text a bar that is shorter or longer than the others has a meter of its own: a pickup of one beat is a
            // bar of 1/4.
            var scale = bar.Meter.BeatInQuarters / own.BeatInQuarters;
            slots = [.. slots.Select(s => s with { Beats = s.Beats * scale })];
            notes = [.. notes.Select(n => n with { At = n.At * scale, Beats = n.Beats * scale })];
            bar = bar with { Meter = own };
        }
        return bar with
        {
            Slots = slots, Melody = notes, Lead = Words(bar.Lead, LongestWords).Trim(),
            StartsLine = bar.StartsLine || index % ChartLimits.MostBarsInLine == 0,
            Remarks = [.. bar.Remarks.Take(MostRemarks)
                .Select(r => Words(r, LongestRemark).Replace('(', ' ').Replace(')', ' ').Trim()).Where(r => r.Length > 0)],
        };
    }

    private static Meter? MeterAsLongAs(double beats, Meter meter)
    {
        var quarters = beats * meter.BeatInQuarters;
        foreach (var unit in (int[])[meter.Unit, 4, 8, 16])
        {
            var count = quarters * unit / 4;
            if (Math.Abs(count - Math.Round(count)) < Hair
                && Meter.TryParse(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{count:0}/{unit}"),
                    out var own))
                return own;
        }
        return null;
    }

    private static Slot Slot(Slot slot)
    {
        // A symbol that would not come back the same from a text is written by the name of its chord.
        var symbol = IsWritable(slot.Symbol) ? slot.Symbol : slot.Chord?.Name ?? Symbol(slot.Symbol);
        return slot with
        {
            Symbol = symbol.Length == 0 ? Charts.Slot.Unknown : symbol, Lyric = Sung(slot.Lyric),
            Beats = double.IsFinite(slot.Beats) ? Math.Clamp(slot.Beats, ShortestBeats, 10 * LongestBeats) : 1,
        };
    }

    private static bool IsWritable(string symbol) =>
        symbol.Length is > 0 and <= ChordReader.LongestSymbol && symbol.AsSpan().IndexOfAny(" \t\r\n|[]") < 0
            && PlainText.Clean(symbol) == symbol;

    private static string Symbol(string text) =>
        PlainText.Cut(string.Concat(PlainText.OneLine(text).Where(c => c is not (' ' or '|' or '[' or ']'))),
            ChordReader.LongestSymbol);

    private static List<FormPart> Form(IReadOnlyList<FormPart> form, Dictionary<string, Section> sections, List<Section> inOrder,
        ProblemList problems)
    {
        var (kept, bars) = (new List<FormPart>(), 0);
        foreach (var part in form.Count > 0 ? form : [.. inOrder.Select(s => new FormPart(s.Name, 1))])
        {
            if (!sections.TryGetValue(part.Section, out var section)) continue;
            var wanted = Math.Clamp(part.Times, 1, ChartLimits.MostTimes);
            var times = kept.Count < ChartLimits.MostFormParts
                ? Math.Min(wanted, (ChartLimits.MostPlayedBars - bars) / section.Bars.Count)
                : 0;
            if (times > 0) kept.Add(new FormPart(section.Name, times));
            bars += times * section.Bars.Count;
            if (times == wanted) continue;
            problems.Add(1, 1,
                $"A form has at most {ChartLimits.MostFormParts} parts and plays at most {ChartLimits.MostPlayedBars:N0} bars; "
                    + $"from {section.Name} on it is cut.");
            break;
        }
        return kept;
    }
}
