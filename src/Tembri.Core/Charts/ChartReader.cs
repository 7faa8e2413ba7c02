using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>A chart and the places in its text that need the teacher's eye.</summary>
/// <param name="Chart">What could be read.</param>
/// <param name="Problems">In order of line and column; empty when all is well.</param>
public sealed record ChartReading(Chart Chart, IReadOnlyList<ChartProblem> Problems);

/// <summary>Reads chart text: header lines, sections in their own line, bar grids, lyrics with chords in square brackets, chords above lyrics.</summary>
/// <remarks>Whatever cannot be read is kept in its place and listed; the rest of the chart is read all the same.</remarks>
public static partial class ChartReader
{
    /// <summary>The longest text accepted, in characters.</summary>
    public const int LongestText = 200_000;

    /// <summary>The most bars a chart may have, repeats written out.</summary>
    public const int MostBars = 4_000;

    /// <summary>Reads a chart.</summary>
    /// <param name="text">Chart text, at most <see cref="LongestText"/> characters.</param>
    /// <exception cref="ArgumentException">The text is too long.</exception>
    public static ChartReading Read(string text)
    {
        if (text.Length > LongestText) throw new ArgumentException($"A chart has at most {LongestText:N0} characters; this one has {text.Length:N0}.", nameof(text));
        var reading = new Run();
        reading.ReadAll(text.Replace("\r\n", "\n", StringComparison.Ordinal).Replace('\r', '\n'));
        return reading.Finish();
    }

    [GeneratedRegex(@"^\s*(?:\[\s*(?<name>[^\]|]+?)\s*\]|(?<name>\p{L}[\p{L}\p{N} .'’-]{0,38}?)\s*:)\s*(?:[x×]\s*(?<times>\d{1,2}))?\s*$")]
    private static partial Regex SectionLine();

    [GeneratedRegex(@"^(?<name>.*?)\s*[x×]\s*(?<times>\d{1,2})$")]
    private static partial Regex NameTimes();

    [GeneratedRegex(@"\s*\|\s*[x×]\s*(\d{1,2})\s*$")]
    private static partial Regex LineTimes();

    [GeneratedRegex(@"\S+")]
    private static partial Regex Words();

    /// <summary>The words of a text with where they begin.</summary>
    internal static IReadOnlyList<(string Text, int Offset)> WordsOf(string text) => [.. Words().Matches(text).Select(m => (m.Value, m.Index))];

    private sealed class OpenSection(string name)
    {
        public string Name { get; } = name;
        public List<Bar> Bars { get; } = [];
        public int RepeatFrom { get; set; } = -1;
    }

    private sealed class Run
    {
        private readonly List<ChartProblem> _problems = [];
        private readonly List<OpenSection> _sections = [];
        private readonly List<(string Name, int Times, int Line)> _order = [];
        private OpenSection? _section;
        private readonly ChartHeader _header = new();
        private int _bars;
        private string _lead = "";
        private (OpenSection Section, int From, int Count) _line;   // the bars of the line just read, before it was repeated

        public void ReadAll(string text)
        {
            var lines = text.Split('\n');
            for (var i = 0; i < lines.Length; i++)
            {
                var line = lines[i].Replace('\t', ' ').TrimEnd();
                var number = i + 1;
                if (line.Length == 0 || line.TrimStart().StartsWith('#') && !line.Contains('|')) continue;
                if (_header.TryTake(line, number, Problem) || TrySection(line, number)) continue;
                if (line.TrimStart().StartsWith(MelodyLine.Mark)) { ReadMelody(line, number); continue; }
                if (line.Contains('[')) { ReadBrackets(line, number); continue; }
                if (line.Contains('|')) { ReadGrid(line, number); continue; }
                if (IsChordLine(line))
                {
                    var words = i + 1 < lines.Length && IsLyricLine(lines[i + 1]) ? lines[++i].Replace('\t', ' ') : "";
                    ReadOver(line, words, number);
                    continue;
                }
                Hold(line.Trim());
            }
        }

        private void Problem(int line, int column, string message) => _problems.Add(new(line, column, message));

        private bool TrySection(string line, int number)
        {
            var match = SectionLine().Match(line);
            if (!match.Success) return false;
            var name = match.Groups["name"].Value;
            if (line.Contains('[') && ChordReader.Read(name.Split(' ')[0]) is { Ok: true }) return false;
            var times = match.Groups["times"] is { Success: true } group ? int.Parse(group.Value, CultureInfo.InvariantCulture) : 1;
            if (NameTimes().Match(name) is { Success: true } inside)
            {
                name = inside.Groups["name"].Value;
                times = int.Parse(inside.Groups["times"].Value, CultureInfo.InvariantCulture);
            }
            Open(name, Math.Clamp(times, 1, 20), number);
            return true;
        }

        private void Open(string name, int times, int line)
        {
            CloseRepeat();
            Drop();
            _section = new OpenSection(name);
            _sections.Add(_section);
            _order.Add((name, times, line));
        }

        private OpenSection Here(int line)
        {
            if (_section is null) Open("Song", 1, line);
            return _section!;
        }

        private void Hold(string words) => _lead = _lead.Length == 0 ? words : _lead + " " + words;

        /// <summary>Words after the last chord of a section stay with that chord.</summary>
        private void Drop()
        {
            if (_lead.Length > 0 && _section is { Bars: [.., var last] bars })
            {
                var slot = last.Slots[^1];
                bars[^1] = last with { Slots = [.. last.Slots.SkipLast(1), slot with { Lyric = (slot.Lyric + " " + _lead).Trim() }] };
            }
            _lead = "";
        }

        private void CloseRepeat()
        {
            if (_section is { RepeatFrom: >= 0 } section) section.RepeatFrom = -1;
        }

        private void AddBar(Bar bar, int line)
        {
            if (++_bars > MostBars)
            {
                if (_bars == MostBars + 1) Problem(line, 1, $"A chart has at most {MostBars:N0} bars; what follows is left out.");
                return;
            }
            if (_lead.Length > 0) { bar = bar with { Lead = (_lead + " " + bar.Lead).Trim() }; _lead = ""; }
            Here(line).Bars.Add(bar);
        }

        private readonly record struct Token(string Text, int Column, int Units, string Lyric);

        private void ReadGrid(string line, int number)
        {
            var times = 1;
            if (LineTimes().Match(line) is { Success: true } repeat)
            {
                times = Math.Clamp(int.Parse(repeat.Groups[1].Value, CultureInfo.InvariantCulture), 1, 20);
                line = line[..repeat.Index] + "|";
            }
            var start = line.IndexOf('|', StringComparison.Ordinal);
            if (line[..start].Trim().TrimEnd(':') is { Length: > 0 } label) Open(label, 1, number);
            var section = Here(number);
            var from = section.Bars.Count;
            var first = true;
            foreach (var (text, offset) in Cells(line, start))
            {
                var cell = text;
                var at = offset;
                if (cell.StartsWith(':')) { section.RepeatFrom = section.Bars.Count; cell = cell[1..]; at++; }
                var closes = cell.TrimEnd().EndsWith(':');
                if (closes) cell = cell.TrimEnd()[..^1];
                if (cell.Trim().Length > 0) ReadCell(cell, at, number, ref first);
                if (closes) RepeatBars(section, section.RepeatFrom < 0 ? 0 : section.RepeatFrom, 2, number);
            }
            _line = (section, from, section.Bars.Count - from);
            if (times > 1) RepeatBars(section, from, times, number);
        }

        /// <summary>A line of the tune belongs to the bars of the line above, and to their repeats.</summary>
        private void ReadMelody(string line, int number)
        {
            if (_line.Section is not { } section)
            {
                Problem(number, 1, "A line of the tune stands under the bars it belongs to; write the bars first.");
                return;
            }
            var start = line.IndexOf(MelodyLine.Mark, StringComparison.Ordinal) + 1;
            var cells = Cells(line, start).Where(c => c.Text.Trim().Length > 0).ToList();
            if (cells.Count > _line.Count) Problem(number, cells[_line.Count].Offset + 2, $"The tune has {cells.Count} bars, the line above {_line.Count}; what is more is left out.");
            for (var i = 0; i < Math.Min(cells.Count, _line.Count); i++)
            {
                var (text, offset) = cells[i];
                var melody = MelodyLine.Read(text, section.Bars[_line.From + i].Beats, (at, message) => Problem(number, offset + at + 1, message));
                for (var b = _line.From + i; b < section.Bars.Count; b += _line.Count) section.Bars[b] = section.Bars[b] with { Melody = melody };
            }
        }

        private void RepeatBars(OpenSection section, int from, int times, int line)
        {
            var bars = section.Bars.Skip(from).ToList();
            for (var i = 1; i < times; i++)
                foreach (var bar in bars) AddBar(bar, line);
            section.RepeatFrom = -1;
        }

        private static IEnumerable<(string Text, int Offset)> Cells(string line, int start)
        {
            var from = start;
            while (from < line.Length)
            {
                var end = line.IndexOf('|', from);
                if (end < 0) end = line.Length;
                yield return (line[from..end], from);
                from = end + 1;
            }
        }

        private void ReadCell(string cell, int offset, int number, ref bool first)
        {
            var tokens = Words().Matches(cell).Select(m => (m.Value, Column: offset + m.Index + 1)).ToList();
            var meter = _header.Meter;
            if (tokens.Count > 0 && Meter.TryParse(tokens[0].Value, out var own)) { meter = own; tokens.RemoveAt(0); }
            if (tokens is [("%", var column)])
            {
                if (Here(number).Bars is [.., var previous]) AddBar(previous with { StartsLine = first, Lead = "", Melody = [] }, number);
                else Problem(number, column, "% repeats the bar before, but there is none yet; write its chords.");
                first = false;
                return;
            }
            var items = new List<Token>();
            foreach (var (text, at) in tokens)
            {
                if (text is "." or "-" or "·" && items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
                else if (text is "." or "-" or "·") Problem(number, at, "A dot holds the chord before it, but this bar begins with one; write the chord again.");
                else items.Add(new Token(text, at, 1, ""));
            }
            if (items.Count == 0) return;
            AddBar(MakeBar(items, meter, number, items[0].Column, first, "", tokens.Count > items.Count), number);
            first = false;
        }

        private Bar MakeBar(List<Token> items, Meter meter, int line, int column, bool startsLine, string lead, bool dotted)
        {
            var beats = (double)meter.Beats;
            double[] lengths;
            if (dotted)
            {
                var units = items.Sum(i => i.Units);
                var unit = units == meter.Beats * meter.Division ? 1.0 / meter.Division : units == meter.Beats * 4 && !meter.IsCompound ? 0.25 : 1.0;
                lengths = [.. items.Select(i => i.Units * unit)];
                if (Math.Abs(lengths.Sum() - beats) > 1e-6)
                    Problem(line, column, $"This bar has {units} beats, but {meter} has {meter.Beats}; add or take away dots, or write its own meter first, such as '{units}/4'.");
            }
            else if (Fits(beats / items.Count, meter)) lengths = [.. items.Select(_ => beats / items.Count)];
            else
            {
                lengths = Spread(items.Count, meter);
                Problem(line, column, $"{items.Count} chords cannot share the {meter.Beats} beats of {meter} evenly; show the beats with dots, such as '{InDots(items, lengths, meter)}'.");
            }
            return new Bar(meter, [.. items.Select((item, i) => MakeSlot(item, lengths[i], line))], startsLine, lead);
        }

        /// <summary>The bar as it was read, written with dots.</summary>
        private static string InDots(List<Token> items, double[] lengths, Meter meter)
        {
            var unit = lengths.All(l => Math.Abs(l - Math.Round(l)) < 1e-9) ? 1.0 : 1.0 / meter.Division;
            return string.Join(' ', items.Select((item, i) => item.Text + string.Concat(Enumerable.Repeat(" .", (int)Math.Round(lengths[i] / unit) - 1))));
        }

        private static bool Fits(double beats, Meter meter) => Math.Abs(beats * meter.Division - Math.Round(beats * meter.Division)) < 1e-9;

        private static double[] Spread(int count, Meter meter)
        {
            var division = count <= meter.Beats ? 1 : meter.Division;
            var units = Math.Max(count, meter.Beats * division);
            return [.. Enumerable.Range(0, count).Select(i => (units / count + (i < units % count ? 1 : 0)) / (double)division)];
        }

        private Slot MakeSlot(Token item, double beats, int line)
        {
            var reading = ChordReader.Read(item.Text);
            if (!reading.Ok) Problem(line, item.Column + reading.Column - 1, reading.Error!);
            return new Slot(item.Text, reading.Chord, beats, item.Lyric, line, item.Column);
        }

        private void ReadBrackets(string line, int number)
        {
            var first = true;
            var (before, from) = (_section, _section?.Bars.Count ?? 0);
            foreach (var (cell, offset) in Cells(line, 0))
            {
                var meter = _header.Meter;
                var items = new List<Token>();
                var dotted = false;
                var open = cell.IndexOf('[', StringComparison.Ordinal);
                var lead = (open < 0 ? cell : cell[..open]).Trim();
                if (open >= 0 && lead.Split(' ')[0] is { } word && Meter.TryParse(word, out var own)) { meter = own; lead = lead[word.Length..].Trim(); }
                while (open >= 0)
                {
                    var close = cell.IndexOf(']', open);
                    if (close < 0)
                    {
                        Problem(number, offset + open + 1, "This square bracket is never closed; write ] after the chord.");
                        break;
                    }
                    var next = cell.IndexOf('[', close);
                    var lyric = next < 0 ? cell[(close + 1)..] : cell[(close + 1)..next];
                    var words = cell[(open + 1)..close].Split(' ', StringSplitOptions.RemoveEmptyEntries);
                    if (words.Length > 1 && words.Skip(1).All(w => w is "." or "·")) dotted = true;
                    else if (words.Length > 1) words = [string.Join(' ', words)];
                    if (words.Length == 0) Problem(number, offset + open + 1, "There is nothing between these brackets; write a chord or take them away.");
                    else items.Add(new Token(words[0], offset + open + 2, words.Length, lyric));
                    open = next;
                }
                if (items.Count == 0) { if (lead.Length > 0) Hold(lead); continue; }
                var barred = line.Contains('|');
                foreach (var group in barred ? [items] : items.Select(i => new List<Token> { i }))
                {
                    group[^1] = group[^1] with { Lyric = group[^1].Lyric.TrimEnd() };
                    AddBar(MakeBar(group, meter, number, group[0].Column, first, lead, dotted && barred), number);
                    first = false;
                    lead = "";
                }
            }
            if (_section is { } section && (section.Bars.Count > from || section != before)) _line = section == before ? (section, from, section.Bars.Count - from) : (section, 0, section.Bars.Count);
        }

        private static bool IsChordLine(string line)
        {
            var words = Words().Matches(line);
            return words.Count > 0 && words.All(w => ChordReader.Read(w.Value).Ok);
        }

        private static bool IsLyricLine(string line) =>
            line.Trim().Length > 0 && !line.Contains('[') && !line.Contains('|') && !line.TrimStart().StartsWith(MelodyLine.Mark) && !IsChordLine(line) && !SectionLine().IsMatch(line) && !ChartHeader.IsHeader(line);

        private void ReadOver(string chords, string words, int number)
        {
            var marks = Words().Matches(chords);
            var first = true;
            for (var i = 0; i < marks.Count; i++)
            {
                var from = Math.Min(marks[i].Index, words.Length);
                var to = i + 1 < marks.Count ? Math.Min(marks[i + 1].Index, words.Length) : words.Length;
                var lead = i == 0 ? words[..from].Trim() : "";
                var item = new Token(marks[i].Value, marks[i].Index + 1, 1, words[from..to].TrimEnd());
                AddBar(MakeBar([item], _header.Meter, number, item.Column, first, lead, false), number);
                first = false;
            }
        }

        public ChartReading Finish()
        {
            Drop();
            var sections = new List<Section>();
            var names = new Dictionary<int, string>();
            for (var i = 0; i < _sections.Count; i++)
            {
                var (name, bars) = (_sections[i].Name, _sections[i].Bars);
                var known = sections.Any(s => s.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
                if (bars.Count == 0)
                {
                    names[i] = name;
                    if (!known && !_sections.Any(s => s.Bars.Count > 0 && s.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
                        Problem(_order[i].Line, 1, $"The section {name} has no bars; write some, or name a section that has.");
                    continue;
                }
                for (var copy = 2; known; copy++)
                {
                    name = $"{_sections[i].Name} ({copy})";
                    known = sections.Any(s => s.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
                }
                names[i] = name;
                sections.Add(new Section(name, bars));
            }
            if (sections.Count == 0) Problem(1, 1, "No chords were found; write bars such as | C . G . |, or words with chords such as [C]Salt on the [G]sill.");
            var form = ReadForm(sections) ?? [.. _order.Select((o, i) => new FormPart(names[i], o.Times)).Where(p => sections.Any(s => s.Name.Equals(p.Section, StringComparison.OrdinalIgnoreCase)))];
            var chart = new Chart
            {
                Title = _header.Title, Tempo = _header.Tempo, Meter = _header.Meter, TuningShift = _header.Tuning, RecordCapo = _header.RecordCapo, VoiceShift = _header.Voice,
                Singer = _header.Singer, MelodyGiven = _header.Melody,
                Extra = _header.Extra, Sections = sections, Form = form,
            };
            return new ChartReading(WithKey(chart), [.. _problems.OrderBy(p => p.Line).ThenBy(p => p.Column)]);
        }

        private List<FormPart>? ReadForm(List<Section> sections)
        {
            if (_header.Form is not { } form) return null;
            var parts = new List<FormPart>();
            foreach (var word in form.Text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
            {
                var (name, times) = NameTimes().Match(word) is { Success: true } m ? (m.Groups["name"].Value, int.Parse(m.Groups["times"].Value, CultureInfo.InvariantCulture)) : (word, 1);
                if (sections.FirstOrDefault(s => s.Name.Equals(name, StringComparison.OrdinalIgnoreCase)) is { } section) parts.Add(new(section.Name, Math.Clamp(times, 1, 20)));
                else Problem(form.Line, 1, $"The form names a section '{name}' that is not in the chart; check its spelling.");
            }
            return parts.Count > 0 ? parts : null;
        }

        private Chart WithKey(Chart chart)
        {
            var key = _header.Key ?? KeyFinder.Guess([.. chart.Played().Select(s => s.Chord).OfType<Chord>()]);
            chart = chart with { Key = key, KeyIsGiven = _header.Key is not null };
            if (_header.Capo == 0) return chart;
            // Written as shapes above a capo: what sounds is higher. A key that is given is the key that sounds.
            var written = _header.Key is null ? key : key.Transpose(-_header.Capo);
            var sounding = _header.Key ?? key.Transpose(_header.Capo);
            return ChartTransposer.Move(chart with { Key = written }, sounding, _header.Capo) with { RecordCapo = _header.RecordCapo == 0 ? _header.Capo : _header.RecordCapo };
        }
    }
}
