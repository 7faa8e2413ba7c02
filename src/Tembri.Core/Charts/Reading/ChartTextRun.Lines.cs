using Tembri.Core.Music;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts.Reading;

/// <content>What a line is: chords, words, a title, a pattern, a meter, or nothing of a chart.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^[A-H][#b♯♭]?(?:maj|min|dim|aug|sus|add|m|M|[0-9]|[#b♯♭()/+°øΔ-]|[A-H])*$")]
    private static partial Regex LikeAChord();

    [GeneratedRegex(@"^\p{L}*\p{Ll}{3}")]
    private static partial Regex Word();

    [GeneratedRegex(@"^[A-Ga-g]o$")]
    private static partial Regex GoOrDo();

    /// <summary>True for a line of chords. A symbol that cannot be read does not make words of the others as long as it looks
    /// like a chord.</summary>
    private bool IsChordLine(string line)
    {
        // A line is asked about several times in a row, as itself and as the next one.
        foreach (var (known, answer) in _asked) if (ReferenceEquals(known, line)) return answer;
        var isChords = FindChordLine(line);
        _asked[_nextAsked++ % _asked.Length] = (line, isChords);
        return isChords;
    }

    private readonly (string? Line, bool IsChords)[] _asked = new (string?, bool)[4];
    private int _nextAsked;

    private bool FindChordLine(string line)
    {
        if (!line.Contains('(') && !line.Contains("..", StringComparison.Ordinal) && LongWord().IsMatch(line)) return false;
        if (HeadingLine.CountedParts(line) is { } parts)
            return parts.All(p => FindChordLine(line[p.From..p.To].TrimEnd(' ', ',', ';')));
        var words = ChordsOf(line);
        int read = 0, like = 0, held = 0, odd = 0, again = 0;
        foreach (var (text, _) in words)
        {
            if (IsHeld(text) || text == "%") (held, again) = (held + 1, again + (text == "%" ? 1 : 0));
            else if (IsChord(text) || ChordAndBeats().Match(text) is { Success: true } timed && IsChord(timed.Groups["chord"].Value))
                read++;
            // Over another bass: G  /B  C.
            else if (read > 0 && text is ['/', >= 'A' and <= 'H', ..] && IsChord($"C{text}")) read++;
            else if (LikeAChord().IsMatch(text)) like++;
            else if (text.Length <= LongestOdd && char.IsUpper(text[0]) && !Word().IsMatch(text)) odd++;
            else return false;
        }
        if (again > 0 && again == words.Count) return true;
        return read > 0 && like + odd == 0 || read >= 2 && read >= like + odd && odd == 0 || read >= 3 && odd == 1;
    }

    /// <summary>Longer than anything that stands in a symbol.</summary>
    [GeneratedRegex(@"\p{Ll}{7}")]
    private static partial Regex LongWord();

    private const int LongestOdd = 6;   // letters of a symbol nobody knows among chords

    /// <summary>Whether a line may stand as the words under a chord line, in a chart with these names.</summary>
    internal static bool IsLyricLine(string line, ChartNaming naming) =>
        new ChartTextRun { Naming = naming }.IsLyrics(LineTidy.Of(line));

    /// <summary>Where in a line the bars begin, behind a section's name in front of them; 0 where there is none.</summary>
    /// <param name="line">The line.</param>
    /// <param name="naming">By which names the chart calls its chords.</param>
    /// <param name="hasVerses">Whether the chart names verses in short, so that C2 may be a chorus.</param>
    internal static int BarsAt(string line, ChartNaming naming, bool hasVerses)
    {
        var (run, usual) = (new ChartTextRun { Naming = naming, _hasVerses = hasVerses }, LineTidy.Of(line));
        return HeadingLine.WithBars(run.WithRoundChords(usual) ?? usual, run.IsChord, run.IsChordLine) is { } front
            && !run.IsChordInFront(usual, front) ? front.RestAt : 0;
    }

    /// <summary>True for a line that names a section. A chord in square brackets is none.</summary>
    internal static bool IsHeading(string line) =>
        HeadingLine.Alone(line, symbol => ChordReader.Read(symbol).Ok, beforeBars: false) is not null;

    /// <summary>Whether the line may stand as the words under a chord line: it is none of the kinds of line that say something
    /// of their own.</summary>
    private bool IsLyrics(string line) =>
        line.AsSpan().Trim(" .…").Length > 0 && !line.Contains('[') && !line.Contains('|') && !IsRemark(line)
            && !line.TrimStart().StartsWith(MelodyLine.Mark) && line.AsSpan().Trim() is not ['{', .., '}']
        && (!IsChordLine(line)
            // Where chords are called Do Re Mi it is one.
            || Naming.Names != ChartNames.Syllables && ChordsOf(line).Exists(w => GoOrDo().IsMatch(w.Text)))
        && HeadingLine.WithBars(line, IsChord, IsChordLine) is null
        && HeadingLine.Alone(line, IsChord, beforeBars: false) is null && HeadingLine.WithWords(line) is null
        && PartAgain(line) is null
        && (ByNameAbove(line) is not { } named || named.Like is null && LinePatterns.SmallLetters().IsMatch(named.Name))
        && !IsStrum(line) && !FigureText.IsFigure(line) && !ChartHeader.IsHeader(line) && !NamesByEqual(line)
        && PageDebris.Of(line, IsChord) is null && !WordedEnding().IsMatch(line) && !IsFormByItself(line)
        && !IsOnward(line) && !EachAlone().IsMatch(line) && !HeadingLine.IsInShort(line)
        && !IsMostlyChords(line) && !IsCountAlone(line) && !IsHowPlayed(line) && !CountAndThen().IsMatch(line)
        && NamedBehind(line) is null && AskedForm(line) is null && !(_roundIsUsual && WithRoundChords(line) is not null)
        && !(line.Length <= LongestOnward && (SendsOn().IsMatch(line) || LettersOfForm(line) is not null));

    /// <summary>True for a line that begins with three chords, or more than half of which are chords, none of them a word as
    /// well, and that is no row of chords: <c>Em D C then hold and stop</c>.</summary>
    private bool IsMostlyChords(string line)
    {
        if (line.Length > LongestNaming || line.AsSpan().ContainsAny('[', '|')) return false;
        int chords = 0, words = 0, first = 0;
        foreach (var word in line.Split([' ', ',', ';', '(', ')'], StringSplitOptions.RemoveEmptyEntries))
            if (char.IsAsciiLetterUpper(word[0]) && word is not ("A" or "Am") && IsChord(word)) chords++;
            else if (char.IsLetterOrDigit(word[0]) && words++ == 0) first = chords;
        return chords > 1 && (chords > words || first > 2) && !IsChordLine(line);
    }

    private static bool IsRemark(string line) =>
        line.TrimStart().StartsWith('#') && !line.Contains('|') && !HeadingLine.IsKnown(line) && !HeadingLine.IsEndName(line);

    /// <summary>Finds out by which names the chart calls its chords: as it says, or as its chords show.</summary>
    private void FindNames(List<(string Text, int Number)> lines)
    {
        var plain = new PlainSymbols();
        FindNotes(lines, plain);
        if (Naming.IsByDegree || Naming.Names == ChartNames.Syllables) return;
        var said = lines.Select(l => ChartHeader.SmallLettersIn(l.Text)).FirstOrDefault(s => s is not null);
        if (said == true)
        {
            Naming = Naming with { SmallIsMinor = true };
            return;
        }
        if (said == false || ForeignNames.SmallMinors(lines, Naming.Names, plain) is not { } small) return;
        var isGerman = Naming.Names == ChartNames.German || small.IsGerman;
        Naming = new ChartNaming(isGerman ? ChartNames.German : Naming.Names, SmallIsMinor: true);
        _namesAreSaid = false;
        var names = ChartHeader.NameOf(Naming.Names);
        Problem(small.Line, small.Column,
            $"'{small.Symbol}' and other small letters are read as minor chords, {small.Symbol} as {ReadChord(small.Symbol).Chord?.Name}. "
                + $"Write names: {names}, {ChartHeader.SmallAreMinor} at the top where that is right, names: {names}, "
                + $"{ChartHeader.SmallAreMajor} where it is not.");
    }

    /// <summary>Finds out by which names notes are called, whatever small letters mean.</summary>
    private void FindNotes(List<(string Text, int Number)> lines, PlainSymbols plain)
    {
        if (lines.Select(l => ChartHeader.NamesIn(l.Text)).FirstOrDefault(n => n is not null) is { } said)
        {
            _namesAreSaid = true;
            Name(said, lines);
            return;
        }
        if (ForeignNames.In(lines, plain) is not { } seen) return;
        var key = Name(seen.Names, lines);
        Problem(seen.Line, seen.Column, seen.Names switch
        {
            ChartNames.German =>
                $"'{seen.Symbol}' is a German name, so H is read as B here and B as B♭. Write names: german at the top where that "
                    + "is right, names: english where it is not.",
            ChartNames.Syllables =>
                $"'{seen.Symbol}' and the others are read as Do Re Mi, with Do for C. Write names: do re mi at the top where that "
                    + "is right, names: english where it is not.",
            ChartNames.ScaleNumbers =>
                $"'{seen.Symbol}' and the others are read as numbers in {key}, each with the triad of the scale. Write names: "
                    + "numbers of the scale at the top where that is right, names: numbers where each is major unless it says m.",
            _ => $"'{seen.Symbol}' and the others are read as {(seen.Names == ChartNames.Numerals ? "numerals" : "numbers")} in {key}. "
                    + $"Write names: {ChartHeader.NameOf(seen.Names)} at the top where that is right.",
        });
    }

    /// <summary>Calls chords by these names from now on.</summary>
    /// <returns>The key in which degrees are counted: the one the chart says, or C.</returns>
    private Key Name(ChartNames names, List<(string Text, int Number)> lines)
    {
        Naming = new ChartNaming(names);
        if (!Naming.IsByDegree) return default;
        Key? given = null;
        var first = lines.FindIndex(l => l.Text.Length is > 0 and <= ChartLimits.LongestLine && !ChartHeader.IsHeader(l.Text));
        for (var i = 0; i < lines.Count; i++)
            if (given is null && lines[i].Text is { Length: <= ChartLimits.LongestLine } text
                && (ChartHeader.KeyIn(text) ?? (i == first ? ChartHeader.KeyInTitle(text) : null)) is var (at, length)
                && Key.TryParse(text.Substring(at, length), out var key))
                given = key;
        // Among words above the first bars: Mill Lullaby, numbers, key of E.
        if (given is null && _keyBehind is null)
            _keyBehind = lines.TakeWhile(
                    l => l.Text.Length <= ChartLimits.LongestLine && !l.Text.Contains('|') && !IsChordLine(l.Text))
                .Take(MostAbove).Select(l => ChartHeader.KeyAmongWords(l.Text)).FirstOrDefault(k => k is not null);
        if (given is null && _keyBehind is { } behind)
        {
            given = behind;
            _header.TryTake($"key: {behind}", 1, Problem);
        }
        Naming = new ChartNaming(names, given ?? new Key(Note.C, false));
        if (given is null)
            Problem(1, 1, "Chords are named by their place in the key, and no key is said, so they are read in C. Write the key at the top, such as key: G.");
        return Naming.Key;
    }

    private const int MostAbove = 12;   // lines above the first bars

    private bool _namesAreSaid;

    /// <summary>By which names the chart calls its chords.</summary>
    public ChartNaming Naming
    {
        get;
        private set
        {
            field = value;
            _symbols.Clear();
        }
    }

    private const int MostSymbols = 1_000;   // more than a chart has, fewer than would be worth their memory
    private readonly Dictionary<string, ChordReading> _symbols = [];

    /// <summary>A symbol as the chart names chords. A line is asked about several times, and a song has few of them.</summary>
    private ChordReading ReadChord(string symbol)
    {
        if (_symbols.TryGetValue(symbol, out var known)) return known;
        var reading = ChordReader.Read(Naming.InEnglish(symbol));
        if (_symbols.Count < MostSymbols) _symbols[symbol] = reading;
        return reading;
    }

    private bool IsChord(string symbol) => ReadChord(symbol).Ok;

    /// <summary>The next line that says anything; empty when there is none, or it is too long.</summary>
    private static string Below(List<(string Text, int Number)> lines, int at)
    {
        for (var i = at + 1; i < lines.Count; i++)
            if (lines[i].Text.Length > 0 && !PageDebris.IsRule(lines[i].Text))
                return lines[i].Text.Length <= ChartLimits.LongestLine ? lines[i].Text : "";
        return "";
    }

    /// <summary>The last line before that says anything; null when there is none.</summary>
    private static (string Text, int Number)? Above(List<(string Text, int Number)> lines, int at)
    {
        for (var i = at - 1; i >= 0; i--)
            if (lines[i].Text.Length > 0) return lines[i];
        return null;
    }

    /// <summary>True when the next line that says anything holds bars or chords without words.</summary>
    private bool NextHasBars(List<(string Text, int Number)> lines, int at)
    {
        for (var i = at + 1; i < lines.Count; i++)
            if (lines[i].Text.Length > 0 && !PageDebris.IsRule(lines[i].Text) && !IsStrum(lines[i].Text)
                && !FigureText.IsFigure(lines[i].Text))
                return lines[i].Text.Length <= ChartLimits.LongestLine && (lines[i].Text.TrimStart().StartsWith('|')
                    || !lines[i].Text.Contains('[') && (lines[i].Text.Contains('|') || IsChordLine(lines[i].Text)));
        return false;
    }

    /// <summary>Leaves out the lines that are all of one kind, and says so once.</summary>
    /// <returns>The last of them.</returns>
    private int LeaveOut(List<(string Text, int Number)> lines, int from, Debris what)
    {
        var to = from;
        while (to + 1 < lines.Count && PageDebris.Of(lines[to + 1].Text, IsChord) == what) to++;
        Problem(lines[from].Number, 1, PageDebris.Say(what, to - from + 1));
        return to;
    }

    /// <summary>A meter alone in its line: that of the song before the first bar, later on that of what follows.</summary>
    private bool TryMeter(string line, int number)
    {
        if (ChartHeader.MeterAlone(line) is not { } meter) return false;
        if (_bars == 0) _header.Use(meter, line);
        UseFromHere(meter, number);
        return true;
    }

    private void UseFromHere(Meter meter, int line) => (_meterFromHere, _meterIsFor) = (meter, (_bars, line));

    /// <summary>A line of facts. Behind bars the song's own facts stay, and a meter is that of what follows.</summary>
    private bool TryHeader(string line, int number)
    {
        _header.IsBehindBars = _bars > 0;
        if (!_header.TryTake(line, number, Problem)) return false;
        if (_header.LaterMeter is not { } meter) return true;
        UseFromHere(meter, number);
        _header.LaterMeter = null;
        return true;
    }

    private (int Bars, int Line)? _meterIsFor;   // how many bars there were when a meter was said last
    private Meter? _meterFromHere;

    private Meter MeterHere => _meterFromHere ?? _header.Meter;
}
