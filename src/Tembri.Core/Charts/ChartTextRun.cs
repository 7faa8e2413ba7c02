using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;
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

    /// <summary>A mark of the source of a web page.</summary>
    [GeneratedRegex(@"</?(?:a|b|br|code|div|em|font|i|p|pre|span|strong|table|td|tr|u)\b[^<>]*>", LinePatterns.AnyCase)]
    private static partial Regex Tag();

    private string[] _raw = [];

    [GeneratedRegex(@"^\s*(?<bar>[0-9]{1,3})\s*:\s*\|")]
    private static partial Regex NumberedLine();

    public void ReadAll(string text, CancellationToken cancel)
    {
        var raw = text.Split('\n');
        for (var i = 0; i < raw.Length; i++)
            raw[i] = raw[i].Length > ChartLimits.LongestLine ? raw[i] : LineTidy.Of(raw[i]).TrimEnd();
        var lines = ColumnLines.Of(raw);
        FindNames(lines);
        FindLetters(lines);
        FindBarNumbers(lines);
        FindNumbers(lines);
        FindSpoken(lines);
        FindJoined(lines);
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
            if (line.Length == 0 || _taken.Contains(i) || TryTitleOfPage(line, number) || IsRemark(line)
                || PageDebris.IsRule(line) || HeadingLine.IsEnd(line) || IsHeadOfTable(line))
                continue;
            if (_numbered.TryGetValue(i, out var verse)) Open(verse, 1, number);
            if (TryStrum(line, number) || TryFigure(line, number) || TryMark(lines, ref i)) continue;
            if (TryFormByItself(lines, i)) continue;
            line = Rounded(WithoutBrackets(WithoutComment(lines, i)));
            if (TryWordedEnding(ref line, number) && line.AsSpan().IsWhiteSpace()) continue;
            // "[End on C]"
            if (line.AsSpan().Trim() is ['[', _, .., ']'] && line.Replace('[', ' ').Replace(']', ' ') is var inside && IsOnward(inside)
                && !HeadingLine.IsKnown(inside) && TryOnward(inside, number, Below(lines, i)))
                continue;
            if (HeadingLine.Alone(line, IsChord, beforeBars: NextHasBars(lines, i)) is { } heading)
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
            if (TryOnward(line, number, Below(lines, i)) || TryEach(line, number)) continue;
            if (!ChartHeader.IsHeader(line) && WithRoundChords(line) is { } squared) line = squared;
            if (TryMeter(line, number) || TryHeader(line, number)) continue;
            if (IsFull) continue;
            if (IsIdleSign(line)) continue;
            if (PageDebris.Of(line, IsChord) is { } debris)
            {
                i = LeaveOut(lines, i, debris);
                continue;
            }
            if (HeadingLine.TimesOfAll(line) is > 1 and var all && _section is { Bars.Count: > 0, OpenRepeat: null, Ending: null } played)
            {
                RepeatBars(played, 0, Times(all, number, 1), number);
                continue;
            }
            if (HeadingLine.CountAt(line) is { At: 0, Times: > 1 and var whole })
            {
                // Where there is one section only, "play 3 times" can mean no other.
                if (_sections is [{ Times: 1, Bars.Count: > 0 } only] && (line.Contains("play", StringComparison.OrdinalIgnoreCase) || line.Contains("repeat", StringComparison.OrdinalIgnoreCase)))
                {
                    only.Times = Times(whole, number, 1);
                    continue;
                }
                // Under the only row of a section it is that row's.
                if (_section is { Bars: [{ Span.Line: var first }, ..] bars, OpenRepeat: null, Ending: null } here
                    && bars.TrueForAll(b => b.Span?.Line == first) && here.Repeats.Select((r, b) => r == b).All(own => own)
                    && Above(lines, i) is { } row && row.Number == first)
                {
                    RepeatBars(here, 0, Times(whole, number, 1), number);
                    continue;
                }
                Problem(number, 1,
                    "A count stands in the line of the bars it counts, behind them, such as | G | D | "
                        + "x2; this one is left out.");
                continue;
            }
            if (NamedBehind(line) is var (unnamed, name, often))
            {
                Open(name, Times(often, number, 1), number);
                _namesStandBehind = _section;
                line = unnamed;
            }
            // A name and its bars in one line: the bars are read where they stand.
            if (HeadingLine.WithBars(line, IsChord, IsChordLine) is { } front && !IsChordInFront(line, front))
            {
                Open(front, number);
                line = new string(' ', front.RestAt) + Rounded(line[front.RestAt..]);
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
            if (line.Contains('[') && !IsTitleInBrackets(lines, i, line)) { ReadBrackets(line, number); continue; }
            var next = i + 1 < lines.Count && lines[i + 1].Text.Length <= ChartLimits.LongestLine ? lines[i + 1].Text : "";
            line = WithoutStrokes(line, isSung: IsLyrics(next));
            if (line.Contains('|')) { ReadGrid(line, number); continue; }
            if (IsChordLine(line))
            {
                var words = IsLyrics(next) ? lines[++i].Text : "";
                // A name in front of the words that are under the chords.
                if (words.Length == 0 && HeadingLine.WithWords(next) is { } label && ChordsOf(line) is [{ Column: var column }, ..]
                    && column > label.RestAt && lines[i].Text.AsSpan(0, column - 1).IsWhiteSpace() && !next.Contains('['))
                {
                    Open(label, lines[++i].Number);
                    words = new string(' ', label.RestAt) + next[label.RestAt..];
                }
                ReadOver(line, words, number);
                continue;
            }
            if (ChordsBehindWords(line) is { } behind)
            {
                ReadOver(new string(' ', behind) + line[behind..], line[..behind].TrimEnd(), number);
                continue;
            }
            if (_sections.Count == 0 && _header.Title.Length == 0 && IsGreeting(line)) _header.AddNote(line.Trim());
            else if (IsTitle(lines, i)) _header.TakeTitle(line, number, Problem);
            else if (_sections.Count == 0 && _header.TryTakeAmongWords(line, number, Problem)) continue;
            else if (_section?.Like is not null) _section.Words.Add(line.Trim());
            else
            {
                SayNotFollowed(line, number);
                Hold(line.Trim());
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

    public ChartReading Finish()
    {
        CloseRepeat();
        Drop();
        if (_header.CapoIsAmongWords && Array.FindIndex(_raw, ChartHeader.SaysCapo) is >= 0 and var words)
            Problem(words + 1, _raw[words].IndexOf("capo", StringComparison.OrdinalIgnoreCase) + 1,
                $"Capo {_header.Capo} stands among words here and is taken. Write capo: {_header.Capo} at the top where that is right, "
                    + "capo: none where it is not.");
        if (_meterIsFor is ( > 0 and var before, var said) && before == _bars && _meterFromHere != _header.Meter)
            Problem(said, 1, $"Behind this {_meterFromHere} no bars follow; write the meter of the song above its bars.");
        var sections = new Dictionary<string, Section>(StringComparer.OrdinalIgnoreCase);
        var inOrder = new List<Section>();
        var withBars = _sections.Where(s => !s.IsEmpty).Select(s => s.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var open in _sections)
        {
            FillBarsSaid(open);
            if (open.IsEmpty)
            {
                // A name alone plays the section of that name again.
                if (!withBars.Contains(open.Name) && !_sayNothing.Contains(open.Name))
                    Problem(open.Line, 1, $"The section {open.Name} has no bars; write some, or name a section that has.");
                continue;
            }
            var written = open.Name;
            for (var copy = 2; sections.ContainsKey(open.Name); copy++) open.Name = $"{written} ({copy})";
            var parent = open.Like is { } like ? sections.GetValueOrDefault(like) : null;
            if (parent is null && open.Strum.Length == 0) open.Strum = _songStrum;
            if (parent is not null && !RoomForCopy(parent, open.Line)) continue;
            var section = open.Finish(parent,
                _header.Strings.Shift(_header.Tuning + (_header.Capo == 0 ? _header.RecordCapo : 0)), Problem);
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
        if (_bars <= ChartLimits.MostBars)
            Problem(line, 1,
                $"A chart has at most {ChartLimits.MostBars:N0} bars, those of sections that follow others counted; this "
                    + "section and such ones after it are left out.");
        _bars = ChartLimits.MostBars + 1;
        return false;
    }

    private ChartReading Finish(List<Section> sections, Dictionary<string, Section> byName)
    {
        if (sections.Count == 0)
            Problem(1, 1,
                Array.Exists(_raw, l => l.Length <= ChartLimits.LongestLine && Tag().IsMatch(l))
                    ? "This is the source of a web page; copy the text as the page shows it, without what stands between < and >."
                    : "No chords were found; write bars such as | C . G . |, or words with chords such as [C]Salt on the "
                        + "[G]sill.");
        var chart = new Chart
        {
            Title = _header.Title, Tempo = _header.Tempo, Meter = _header.Meter, TuningShift = _header.Tuning,
            Strings = _header.Strings, RecordCapo = _header.RecordCapo, VoiceShift = _header.Voice,
            Singer = _header.Singer, MelodyGiven = _header.Melody, Recordings = _header.Recordings, Extra = _header.Extra,
            Sections = sections,
        };
        var (form, formLine) = ReadForm(byName) is { } given
            ? given
            : (_sections.Where(o => byName.ContainsKey(o.Name) && !IsOnlySaid(o))
                .Select(o => new FormPart(byName[o.Name].Name, o.Times)).ToList(), 1);
        chart = chart with { Form = InLimits(form, byName, formLine) };
        return new ChartReading(WithKey(chart), _problems.ToList())
        {
            Naming = Naming, NamesAreSaid = _namesAreSaid, FormLine = _formLine,
        };
    }

    private Chart WithKey(Chart chart)
    {
        // Numbers count in the key that sounds, whatever shapes play it.
        if (Naming.IsByDegree)
            return chart with { Key = Naming.Key, KeyIsGiven = _header.Key is not null,
                RecordCapo = _header.RecordCapo == 0 ? _header.Capo : _header.RecordCapo };
        Key? guess = _header.Key is null || _header.Capo > 0
            ? KeyFinder.Guess([.. chart.Played().Select(s => s.Chord).OfType<Chord>()])
            : null;
        chart = chart with { Key = _header.Key ?? guess!.Value, KeyIsGiven = _header.Key is not null };
        if (_header.Capo == 0) return chart;
        // Written as shapes above a capo: what sounds is higher. A key that is given is the key that sounds, unless it is that
        // of the shapes as they stand.
        var namesShapes = _header.Key is not { } given
            || given.Tonic.PitchClass == guess!.Value.Tonic.PitchClass && given.IsMinor == guess.Value.IsMinor;
        var written = namesShapes ? chart.Key : chart.Key.Transpose(-_header.Capo);
        var sounding = namesShapes ? chart.Key.Transpose(_header.Capo) : chart.Key;
        return ChartTransposer.Move(chart with { Key = written }, sounding, _header.Capo, keepPlaces: true)
            with { RecordCapo = _header.RecordCapo == 0 ? _header.Capo : _header.RecordCapo };
    }
}
