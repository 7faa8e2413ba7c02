using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts.Reading;

/// <summary>One reading of a chart text, line by line: header, sections, what each line is, the form.</summary>
/// <param name="assumed">The meter its bars show, where none is said; null before that is known.</param>
internal sealed partial class ChartTextRun(Meter? assumed = null)
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

    /// <summary>A mark of the source of a web page.</summary>
    [GeneratedRegex(@"</?(?:a|b|br|code|div|em|font|i|p|pre|span|strong|table|td|tr|u)\b[^<>]*>", LinePatterns.AnyCase)]
    private static partial Regex Tag();

    private string[] _raw = [];
    private readonly HashSet<int> _inTicks = [];   // lines between marks that no reader of the page sees
    private bool _isSourceOfPage;

    [GeneratedRegex(@"^\s*(?<bar>[0-9]{1,3})\s*:\s*\|")]
    private static partial Regex NumberedLine();

    public void ReadAll(string text, CancellationToken cancel)
    {
        if (assumed is { } shown) _header.Assume(shown);
        var raw = text.Split('\n');
        _isSourceOfPage = Array.Exists(raw, l => l.Length <= ChartLimits.LongestLine && Tag().IsMatch(l));
        for (var i = 0; i < raw.Length; i++)
        {
            if (raw[i] is ['`', ..]) _inTicks.Add(i + 1);
            raw[i] = raw[i].Length > ChartLimits.LongestLine ? raw[i] : LineTidy.Of(raw[i]).TrimEnd();
        }
        var lines = ColumnLines.Of(raw);
        SetSameApart(lines);
        TakeKeysBehind(lines);
        FindNames(lines);
        FindLetters(lines);
        FindBarNumbers(lines);
        FindNumbersBehind(lines);
        FindNumbers(lines);
        FindRound(lines);
        FindRowSigns(lines);
        FindLineNumbers(lines);
        FindWordsBeside(lines);
        FindRowsCountedAlike(lines);
        FindUnnamed(lines);
        FindSpoken(lines);
        FindJoined(lines);
        FindGuitars(lines);
        _raw = raw;
        _isPage = lines.Exists(l => l.Text.StartsWith("## ", StringComparison.Ordinal));
        for (var i = 0; i < lines.Count; i++)
        {
            cancel.ThrowIfCancellationRequested();
            var (line, number) = lines[i];
            if (line.Length > ChartLimits.LongestLine)
            {
                Problem(number, ChartLimits.LongestLine,
                    $"This line has {line.Length:N0} characters, {ChartLimits.LongestLine:N0} is the most; break it into "
                        + "several. It is left out.");
                continue;
            }
            if (line.Length == 0 || _taken.Contains(i) || TryTitleOfPage(line, number) || TryTitleBesideFacts(line, number)
                || IsRemark(line) || PageDebris.IsRule(line) || HeadingLine.IsEnd(line))
                continue;
            if (TryGuitar(lines, ref i)) continue;
            line = lines[i].Text;
            if (IsHeadOfTable(line))
            {
                if (line.Contains('|') && IsRuleOfTable(Below(lines, i))) _taken.Add(i + 1);
                continue;
            }
            if (_numbered.TryGetValue(i, out var verse))
            {
                Open(verse, 1, number);
                // Words alone are sung to the chords of a verse above.
                if (IsLyrics(line)) Follow(lines, i, line);
                if (_taken.Contains(i)) continue;
            }
            if (TryListOfChords(lines, ref i)) continue;
            if (TryStrum(line, number) || TryFigure(line, number) || TryMark(lines, ref i)) continue;
            if (TryFormByItself(lines, i)) continue;
            line = Rounded(WithoutBrackets(WithoutComment(lines, i)));
            if (TryWordedEnding(ref line, number) && line.AsSpan().IsWhiteSpace()) continue;
            line = WithoutCountInFront(lines, i, line);
            if (OnwardInBrackets(line) is { } inside && TryOnward(inside, number, Below(lines, i))) continue;
            if ((HeadingLine.Alone(line, IsChord, beforeBars: NextHasBars(lines, i)) ?? InShortAboveWords(lines, i, line)
                    ?? EndAbove(lines, i, line))
                is { } heading)
            {
                if (IsFull) continue;
                Open(heading, number);
                Follow(lines, i, "");
                continue;
            }
            if (ByNameAbove(line) is { } again)
            {
                if (IsFull) continue;
                Open(again.Name, Times(again.Times, number, 1), number, again.Like);
                Follow(lines, i, "");
                continue;
            }
            if (TryOnward(line, number, Below(lines, i)) || TryEach(line, number) || TryHowPlayed(lines, i, line))
                continue;
            if (!ChartHeader.IsHeader(line) && WithRoundChords(line) is { } squared) line = squared;
            if (TryMeter(line, number) || TryHeader(line, number)) continue;
            if (IsFull) continue;
            if (IsIdleSign(line)) continue;
            if (PageDebris.Of(line, IsChord) is { } debris)
            {
                i = LeaveOut(lines, i, debris);
                if (debris == Debris.Tablature) _tablatureIn = _section;
                continue;
            }
            if (TryCountAlone(lines, i)) continue;
            if (line.Contains('|') && TryTableRow(line, number)) continue;
            if (NamedBehind(line) is var (unnamed, name, often))
            {
                Open(name, Times(often, number, 1), number);
                _namesStandBehind = _section;
                line = unnamed;
            }
            var isNamed = false;
            // A name and its bars in one line: the bars are read where they stand.
            if (HeadingLine.WithBars(line, IsChord, IsChordLine) is { } front && !IsChordInFront(line, front))
            {
                OpenInFront(front, line[front.RestAt..], number);
                line = WithoutBrackets(new string(' ', front.RestAt) + Rounded(line[front.RestAt..]));
                isNamed = true;
            }
            else if (HeadingLine.WithWords(line) is { } named)
            {
                Open(named, number);
                line = new string(' ', named.RestAt) + line[named.RestAt..];
                Follow(lines, i, line);
                if (_taken.Contains(i)) continue;
            }
            if (line.TrimStart().StartsWith(MelodyLine.Mark)) { ReadMelody(line, number); continue; }
            if (NumberedLine().Match(line) is { Success: true } numbered) { ReadOwnBars(line, numbered, number); continue; }
            var next = i + 1 < lines.Count && lines[i + 1].Text.Length <= ChartLimits.LongestLine ? lines[i + 1].Text : "";
            var inBrackets = RowInBrackets(line, next);
            line = inBrackets ?? line;
            if (line.Contains('[') && !IsTitleInBrackets(lines, i, line))
            {
                OpenWhereSungBegins(lines, i);
                ReadBrackets(line, number);
                continue;
            }
            if (line.Contains(" / ", StringComparison.Ordinal)) line = WithoutStrokes(line, isSung: IsLyrics(next));
            if (line.Contains('|'))
            {
                line = ClosedBeforeCount(line);
                OpenWhereSungBegins(lines, i);
                var (before, from) = (_section, _section?.Bars.Count ?? 0);
                ReadGrid(line, number);
                if (_section is { } section && (section == before ? from : 0) is var first
                    && (TryWordsInBars(line, next, section, first) || TryWordsBelow(line, number, next, section, first)))
                    i++;
                continue;
            }
            if (IsChordLine(line))
            {
                if (next.AsSpan().ContainsAny('|', '1') && TryOverStrokes(line, number, lines[i + 1]))
                {
                    i++;
                    continue;
                }
                OpenWhereSungBegins(lines, i);
                var words = !isNamed && WordsBesideName(lines, ref i, line, next) is { } beside ? beside
                    : IsLyrics(next) ? lines[++i].Text
                    : IsLyrics(WithoutBarLines(next)) ? WithoutBarLines(lines[++i].Text)
                    : WordsBehindName(lines, ref i, line, next);
                ReadOver(line, inBrackets is null && !_inTicks.Contains(number) ? words : " " + words, number, isNamed);
                continue;
            }
            if (ChordsBehindWords(line) is { } behind)
            {
                ReadOver(new string(' ', behind) + line[behind..], line[..behind].TrimEnd(), number);
                continue;
            }
            if (IsWordAboveBars(lines, i)) Open(line.Trim(), 1, number);
            else if (_sections.Count == 0 && _header.Title.Length == 0 && IsGreeting(line)) _header.AddNote(line.Trim());
            else if (IsTitle(lines, i)) _header.TakeTitle(WithoutItsName(line, Below(lines, i)), number, Problem);
            else if (_sections.Count == 0 && _header.TryTakeAmongWords(line, number, Problem)) continue;
            else
            {
                SayNotFollowed(line, number);
                if (_sections.Count == 0) _header.TakeAmongWords(line, number);
                if (TryFoot(lines, i, line)) continue;
                if (_section?.Like is not null) _section.Words.Add(line.Trim());
                else Hold(line.Trim());
            }
        }
    }

    private void Problem(int line, int column, string message) => _problems.Add(line, column, message);

    private string _songStrum = "";   // what the hand plays where a section says nothing else
    private readonly HashSet<string> _sayNothing = [];   // sections whose fault is said already

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
        else if (_sectionsLeftOut++ == 0)
            Problem(line, 1,
                $"A chart has at most {ChartLimits.MostSections} sections; this one and what follows are left out.");
    }

    /// <summary>A repeat ends with its section at the latest; one that was never closed is said, since nobody knows what it
    /// meant.</summary>
    private void CloseRepeat()
    {
        if (_section is not { } section) return;
        CloseEndings(section);
        if (section.OpenRepeat is not (_, var line, var column)) return;
        Problem(line, column, "This repeat is never closed; write :| where it ends, or take the colon away.");
        section.OpenRepeat = null;
    }

    /// <summary>What a section is called whose bars stand under no heading.</summary>
    internal const string Unnamed = "Song";

    private OpenSection Here(int line)
    {
        if (_section is null) Open(Unnamed, 1, line);
        return _section!;
    }

    private void Hold(string words) => _lead.Append(_lead.Length == 0 ? "" : " ").Append(words);

    /// <summary>Words after the last chord of a section stay with that chord.</summary>
    private void Drop()
    {
        if (_lead.Length > 0 && _section is { Bars: [.., var last] bars })
        {
            var slot = last.Slots[^1];
            bars[^1] =
                last with { Slots = [.. last.Slots.SkipLast(1), slot with { Lyric = (slot.Lyric + " " + _lead).Trim() }] };
        }
        // Words before any section say something of the whole song.
        else if (_lead.Length > 0 && _sections.Count == 0) _header.AddNote(_lead.ToString());
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
        if (_bars == ChartLimits.MostBars + 1)
            Problem(line, 1, $"A chart has at most {ChartLimits.MostBars:N0} bars; what follows is left out.");
        return false;
    }

    private bool IsFull => _bars > ChartLimits.MostBars || _sectionsLeftOut > 0;
}
