using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts;

/// <summary>One reading of a chart text, line by line: header, sections, what each line is, the form.</summary>
internal sealed partial class ChartTextRun
{
    private readonly ProblemList _problems = new();
    private readonly List<OpenSection> _sections = [];
    private readonly HashSet<string> _names = new(StringComparer.OrdinalIgnoreCase);
    private OpenSection? _section;
    private readonly ChartHeader _header = new();
    private int _bars;
    private int _sectionsLeftOut;
    private readonly StringBuilder _lead = new();
    private LineRead? _line;

    /// <summary>The bars of the line just read, for the tune that may stand under it.</summary>
    private sealed record LineRead(int Count, Func<int, double> Beats, Action<int, IReadOnlyList<MelodyNote>> SetTune);

    [GeneratedRegex(@"^\s*(?:\[\s*(?<name>[^\]|]+?)\s*\]|(?<name>\p{L}[\p{L}\p{N} .'’-]{0,58}?)\s*:)\s*(?:[x×]\s*(?<times>\d{1,2}))?\s*$", RegexOptions.NonBacktracking)]
    private static partial Regex SectionLine();

    [GeneratedRegex(@"^\s*(?<name>\p{L}[\p{L}\p{N} .'’-]{0,58}?)\s*:\s+(?<chords>[^|\[]+)$", RegexOptions.NonBacktracking)]
    private static partial Regex NamedChords();

    [GeneratedRegex(@"^\s*(?<name>(?:intro|verse|pre-?\s?chorus|chorus|refrain|bridge|interlude|instrumental|solo|break|outro|ending|tag|coda)(?:\s+(?:\d{1,2}|[ivx]{1,4}))?)\s*(?:\(?\s*[x×]\s*(?<times>\d{1,2})\s*\)?)?\s*$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex PlainHeading();

    [GeneratedRegex(@"^(?<name>.+?)\s*[:,]?\s+as\s+(?<like>.+)$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex LikeAnother();

    [GeneratedRegex(@"^(?<name>.*?)\s*[x×]\s*(?<times>\d{1,2})$", RegexOptions.NonBacktracking)]
    private static partial Regex NameTimes();

    [GeneratedRegex(@"^\s*strum\s*:\s*(?<steps>\S*)\s*$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex StrumLine();

    [GeneratedRegex(@"^\s*(?<bar>\d{1,3})\s*:\s*\|", RegexOptions.NonBacktracking)]
    private static partial Regex NumberedLine();

    public void ReadAll(string text, CancellationToken cancel)
    {
        var lines = text.Split('\n');
        for (var i = 0; i < lines.Length; i++)
        {
            cancel.ThrowIfCancellationRequested();
            var line = lines[i].Replace('\t', ' ').TrimEnd();
            var number = i + 1;
            if (line.Length > ChartLimits.LongestLine)
            {
                Problem(number, ChartLimits.LongestLine, $"This line has {line.Length:N0} characters, {ChartLimits.LongestLine:N0} is the most; break it into several. It is left out.");
                continue;
            }
            if (line.Length == 0 || IsRemark(line)) continue;
            if (TryStrum(line, number) || _header.TryTake(line, number, Problem)) continue;
            if (IsFull) continue;
            if (TrySection(line, number)) continue;
            // A name and its chords in one line: the chords are read where they stand.
            if (NamedChordsIn(line) is { } named)
            {
                Open(named.Groups["name"].Value.Trim(), 1, number);
                line = new string(' ', named.Groups["chords"].Index) + named.Groups["chords"].Value;
            }
            if (line.TrimStart().StartsWith(MelodyLine.Mark)) { ReadMelody(line, number); continue; }
            if (NumberedLine().Match(line) is { Success: true } numbered) { ReadOwnBars(line, numbered, number); continue; }
            if (line.Contains('[')) { ReadBrackets(line, number); continue; }
            if (line.Contains('|')) { ReadGrid(line, number); continue; }
            if (IsChordLine(line))
            {
                var words = i + 1 < lines.Length && lines[i + 1].Length <= ChartLimits.LongestLine && IsLyricLine(lines[i + 1]) ? lines[++i].Replace('\t', ' ') : "";
                ReadOver(line, words, number);
                continue;
            }
            if (_section?.Like is not null) _section.Words.Add(line.Trim());
            else Hold(line.Trim());
        }
    }

    private void Problem(int line, int column, string message) => _problems.Add(line, column, message);

    private bool TryStrum(string line, int number)
    {
        if (!line.Contains("strum", StringComparison.OrdinalIgnoreCase) || StrumLine().Match(line) is not { Success: true } match) return false;
        var steps = match.Groups["steps"];
        if (HandSteps.Read(steps.Value) is not null) Here(number).Strum = steps.Value;
        else Problem(number, steps.Index + 1, $"'{steps.Value}' is not a pattern of the hand; write a letter a step: D leaned on, d down, u up, x damped, - passed, . ringing; or picked: b the bass string, a the other bass, 1 to 6 a string, (b1) both at once.");
        return true;
    }

    private bool TrySection(string line, int number)
    {
        var plain = PlainHeading().Match(line);
        if (!plain.Success && !IsHeading(line)) return false;
        var match = plain.Success ? plain : SectionLine().Match(line);
        var name = match.Groups["name"].Value;
        var times = match.Groups["times"] is { Success: true } group ? int.Parse(group.Value, CultureInfo.InvariantCulture) : 1;
        if (NameTimes().Match(name) is { Success: true } inside)
        {
            name = inside.Groups["name"].Value;
            times = int.Parse(inside.Groups["times"].Value, CultureInfo.InvariantCulture);
        }
        var like = LikeAnother().Match(name) is { Success: true } m && _names.Contains(m.Groups["like"].Value) ? m : null;
        Open(like?.Groups["name"].Value ?? name, Math.Clamp(times, 1, ChartLimits.MostTimes), number, like?.Groups["like"].Value);
        return true;
    }

    /// <summary>True for a line that names a section. A chord in square brackets is none.</summary>
    internal static bool IsHeading(string line) => line.AsSpan().ContainsAny('[', ':') && SectionLine().Match(line) is { Success: true } match
        && !ChartHeader.IsHeader(line) && !(line.Contains('[') && ChordReader.Read(match.Groups["name"].Value.Split(' ')[0].TrimStart('<')) is { Ok: true });

    private void Open(string name, int times, int line, string? like = null)
    {
        CloseRepeat();
        Drop();
        _section = new OpenSection(name, times, line) { Like = like };
        _line = null;
        if (_sections.Count < ChartLimits.MostSections)
        {
            _sections.Add(_section);
            _names.Add(name);
        }
        else if (_sectionsLeftOut++ == 0) Problem(line, 1, $"A chart has at most {ChartLimits.MostSections} sections; this one and what follows are left out.");
    }

    /// <summary>A repeat ends with its section at the latest; one that was never closed is said, since nobody knows what it meant.</summary>
    private void CloseRepeat()
    {
        if (_section is not { OpenRepeat: var (_, line, column) } section) return;
        Problem(line, column, "This repeat is never closed; write :| where it ends, or take the colon away.");
        section.OpenRepeat = null;
    }

    private OpenSection Here(int line)
    {
        if (_section is null) Open("Song", 1, line);
        return _section!;
    }

    private void Hold(string words) => _lead.Append(_lead.Length == 0 ? "" : " ").Append(words);

    /// <summary>Words after the last chord of a section stay with that chord.</summary>
    private void Drop()
    {
        if (_lead.Length > 0 && _section is { Bars: [.., var last] bars })
        {
            var slot = last.Slots[^1];
            bars[^1] = last with { Slots = [.. last.Slots.SkipLast(1), slot with { Lyric = (slot.Lyric + " " + _lead).Trim() }] };
        }
        _lead.Clear();
    }

    private void AddBar(Bar bar, int line, int? repeats = null)
    {
        if (_sectionsLeftOut > 0 || !RoomForBar(line)) return;
        if (_lead.Length > 0)
        {
            bar = bar with { Lead = $"{_lead} {bar.Lead}".Trim() };
            _lead.Clear();
        }
        Here(line).Add(bar, repeats);
    }

    /// <summary>Counts a bar that is to come; false, and said once, when there is no room for it.</summary>
    private bool RoomForBar(int line)
    {
        if (_bars++ < ChartLimits.MostBars) return true;
        if (_bars == ChartLimits.MostBars + 1) Problem(line, 1, $"A chart has at most {ChartLimits.MostBars:N0} bars; what follows is left out.");
        return false;
    }

    private bool IsFull => _bars > ChartLimits.MostBars || _sectionsLeftOut > 0;

    public ChartReading Finish()
    {
        CloseRepeat();
        Drop();
        var sections = new Dictionary<string, Section>(StringComparer.OrdinalIgnoreCase);
        var inOrder = new List<Section>();
        var withBars = _sections.Where(s => !s.IsEmpty).Select(s => s.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var open in _sections)
        {
            if (open.IsEmpty)
            {
                // A name alone plays the section of that name again.
                if (!withBars.Contains(open.Name)) Problem(open.Line, 1, $"The section {open.Name} has no bars; write some, or name a section that has.");
                continue;
            }
            var written = open.Name;
            for (var copy = 2; sections.ContainsKey(open.Name); copy++) open.Name = $"{written} ({copy})";
            var parent = open.Like is { } like ? sections.GetValueOrDefault(like) : null;
            if (parent is not null && !RoomForCopy(parent, open.Line)) continue;
            var section = open.Finish(parent, message => Problem(open.Line, 1, message));
            if (section.Bars.Count == 0) continue;
            sections.Add(open.Name, section);
            inOrder.Add(section);
        }
        return Finish(inOrder, sections);
    }

    /// <summary>A section that follows another one has as many bars as that one.</summary>
    private bool RoomForCopy(Section parent, int line)
    {
        if (_bars + parent.Bars.Count <= ChartLimits.MostBars)
        {
            _bars += parent.Bars.Count;
            return true;
        }
        if (_bars <= ChartLimits.MostBars) Problem(line, 1, $"A chart has at most {ChartLimits.MostBars:N0} bars, those of sections that follow others counted; this section and such ones after it are left out.");
        _bars = ChartLimits.MostBars + 1;
        return false;
    }

    private ChartReading Finish(List<Section> sections, Dictionary<string, Section> byName)
    {
        if (sections.Count == 0) Problem(1, 1, "No chords were found; write bars such as | C . G . |, or words with chords such as [C]Salt on the [G]sill.");
        var chart = new Chart
        {
            Title = _header.Title, Tempo = _header.Tempo, Meter = _header.Meter, TuningShift = _header.Tuning, RecordCapo = _header.RecordCapo, VoiceShift = _header.Voice,
            Singer = _header.Singer, MelodyGiven = _header.Melody, Recordings = _header.Recordings, Extra = _header.Extra, Sections = sections,
        };
        var (form, formLine) = ReadForm(byName) is { } given ? (given, _header.Form!.Value.Line) : (_sections.Where(o => byName.ContainsKey(o.Name)).Select(o => new FormPart(o.Name, o.Times)).ToList(), 1);
        chart = chart with { Form = InLimits(form, byName, formLine) };
        return new ChartReading(WithKey(chart), _problems.ToList());
    }

    /// <summary>The form as far as it is played: no more parts and no more bars than a chart may have.</summary>
    private List<FormPart> InLimits(List<FormPart> form, Dictionary<string, Section> sections, int line)
    {
        var (kept, bars) = (new List<FormPart>(), 0);
        foreach (var part in form)
        {
            if (kept.Count == ChartLimits.MostFormParts)
            {
                Problem(line, 1, $"A form has at most {ChartLimits.MostFormParts} parts; what follows {part.Section} is left out.");
                break;
            }
            var times = Math.Min(part.Times, (ChartLimits.MostPlayedBars - bars) / sections[part.Section].Bars.Count);
            if (times > 0) kept.Add(part with { Times = times });
            bars += times * sections[part.Section].Bars.Count;
            if (times == part.Times) continue;
            Problem(line, 1, $"A form plays at most {ChartLimits.MostPlayedBars:N0} bars; from {part.Section} on it is cut.");
            break;
        }
        return kept;
    }

    private List<FormPart>? ReadForm(Dictionary<string, Section> sections)
    {
        if (_header.Form is not { } form) return null;
        var parts = new List<FormPart>();
        foreach (var word in form.Text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (parts.Count > ChartLimits.MostFormParts) break;
            var (name, times) = NameTimes().Match(word) is { Success: true } m ? (m.Groups["name"].Value, int.Parse(m.Groups["times"].Value, CultureInfo.InvariantCulture)) : (word, 1);
            if (sections.GetValueOrDefault(name) is { } section) parts.Add(new(section.Name, Math.Clamp(times, 1, ChartLimits.MostTimes)));
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
