using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Sections that are played like one above them: as a line under their name says, or because they have no chords of
/// their own; how their headings open them.</content>
internal sealed partial class ChartTextRun
{
    private readonly HashSet<int> _taken = [];   // lines that were read with the name above them

    /// <summary>Opens the section a heading names, and says where it is to be the same as one that is not there.</summary>
    private void Open(HeadingLine heading, int line)
    {
        var (name, each) = WithoutEach(HeadingLine.WithoutOrder(heading.Name));
        var said = BarsSaid().Match(name);
        if (said.Success) name = $"{name[..said.Index]}({said.Groups["bars"].Value} bar{(said.Groups["bars"].Value == "1" ? "" : "s")})";
        OpenNamed(heading with { Name = name }, line);
        _section!.Each = each;
        if (!said.Success) return;
        _section.BarsSaid = int.Parse(said.Groups["bars"].ValueSpan, CultureInfo.InvariantCulture);
        _section.IsSaidTwice = said.Groups["twice"].Success;
    }

    private (string Name, string First, int Line)? _front;   // the name in front of a row, its section's first row, its line

    /// <summary>Opens the section whose name stands in front of a row. Right below a row with the same name and other bars it
    /// goes on.</summary>
    /// <param name="front">The name.</param>
    /// <param name="row">The bars behind it.</param>
    /// <param name="number">The line's number.</param>
    private void OpenInFront(HeadingLine front, string row, int number)
    {
        var bars = string.Concat(row.Where(c => c is not (' ' or '|')));
        if (front.Times == 1 && _section is { Times: 1, Like: null, Bars.Count: > 0 } && _front is var (name, first, above)
            && above == number - 1 && name.Equals(front.Name, StringComparison.OrdinalIgnoreCase) && first != bars)
        {
            _front = (name, first, number);
            return;
        }
        Open(front, number);
        _front = (front.Name, bars, number);
    }

    private void OpenNamed(HeadingLine heading, int line)
    {
        if (heading.Name.EndsWith(')') && heading.Name.LastIndexOf('(') is > 1 and var bracket && _sections.Count == 0
            && _header.TryTakeCapoAmongWords(heading.Name[(bracket + 1)..^1]))
            heading = heading with { Name = heading.Name[..bracket].TrimEnd() };
        if (heading.IsSame)
        {
            if ((Above(HeadingLine.KindOf(heading.Name.Split(" (")[0]))
                ?? _sections.Find(o => !o.IsEmpty && HeadingLine.AreOfOneKind(o.Name, heading.Name))?.Name
                ?? (HeadingLine.AreOfOneKind("verse", heading.Name) ? Nameless?.Name : null)
                // Behind one section alone it can be no other.
                ?? (_sections is [{ IsEmpty: false } only] ? only.Name : null))
                is { } first)
            {
                Open(heading.Name, 1, line, first);
                return;
            }
            Problem(line, 1,
                $"There is no {HeadingLine.KindOf(heading.Name)} above this one; write its bars, or name "
                    + "the section it is the same as.");
            _sayNothing.Add(heading.Name);
        }
        // A name may hold the word itself; a colon before it leaves no doubt.
        if (heading.Name.LastIndexOf(": as ", StringComparison.Ordinal) is > 0 and var colon
            && Above(heading.Name[(colon + 5)..]) is { } named)
        {
            Open(heading.Name[..colon], Times(heading.Times, line, 1), line, named);
            return;
        }
        var like = HeadingLine.LikeAnother().Match(heading.Name) is { Success: true } m ? m : null;
        // The last bracket may be that of the name.
        var above = like is null ? null
            : Above(like.Groups["like"].Value) ?? Above(like.Groups["like"].Value + ")")
                // A remark behind a comma: Verse 2 - as verse 1, softly.
                ?? (like.Groups["like"].Value.Split(',', 2) is [var before, _] ? Above(before) : null)
                ?? (HeadingLine.AreOfOneKind("verse", like.Groups["like"].Value) ? Nameless?.Name : null)
                // A number alone is that of the same kind: Verse 3: same as 1.
                ?? (like.Groups["like"].ValueSpan is [>= '1' and <= '9'] && HeadingLine.KindOf(like.Groups["name"].Value) is var kind
                    ? Above($"{kind} {like.Groups["like"].Value}") ?? Above($"{kind}{like.Groups["like"].Value}")
                    : null);
        if (like is not null && above is null)
        {
            // Only a colon or a comma makes sure that "as" is no word of the name.
            if (like.Groups["mark"].Success)
            {
                Problem(line, 1,
                    $"There is no section '{like.Groups["like"].Value}' above this one; name one that "
                        + "stands above, or write the bars.");
                _sayNothing.Add(heading.Name);
            }
            like = null;
        }
        Open(like?.Groups["name"].Value ?? heading.Name, Times(heading.Times, line, 1), line, above);
    }

    /// <summary>The section above that a name means: that of this name, a remark behind it aside, or the first of this
    /// kind; null when there is none.</summary>
    private string? Above(string name) =>
        _names.TryGetValue(name, out var exact) ? exact
            : _sections.Find(o => HeadingLine.KindOf(o.Name).Equals(name, StringComparison.OrdinalIgnoreCase))?.Name
                ?? _sections.Find(o => o.Name.StartsWith(name + " (", StringComparison.OrdinalIgnoreCase))?.Name
                ?? (name.Length == 1 ? _sections.Find(o => IsPart(o.Name, name))?.Name : null)
                ?? (Spelt(name) is { } whole && _names.TryGetValue(whole, out var named) ? named : null)
                ?? _names.FirstOrDefault(n => n.Length <= LongestShort
                    && string.Equals(Spelt(n), name, StringComparison.OrdinalIgnoreCase))
                ?? Numberless(name) ?? InEnglish(name);

    /// <summary>True for a part whose letter this is: <c>Part A</c>, <c>A-part (8 bars)</c>.</summary>
    private static bool IsPart(string name, string letter) =>
        name.StartsWith(letter + "-part", StringComparison.OrdinalIgnoreCase)
            || name.StartsWith(letter + " part", StringComparison.OrdinalIgnoreCase)
            || name.Split(" (")[0].Equals("Part " + letter, StringComparison.OrdinalIgnoreCase);

    /// <summary>The first section of a kind that a number is asked of, Verse 2, where none of them has one.</summary>
    private string? Numberless(string name) =>
        HeadingLine.IsKnown(name) && HeadingLine.KindOf(name) is var kind && kind.Length < name.Length
            && !_sections.Exists(o => o != _section && HeadingLine.AreOfOneKind(o.Name, name) && o.Name.Any(char.IsAsciiDigit))
                ? _sections.Find(o => o != _section && HeadingLine.AreOfOneKind(o.Name, name))?.Name
                : null;

    [GeneratedRegex(@"^(?:vs?|ch?|br?)\.?\s?(?<number>[1-9]?)$", LinePatterns.AnyCase)]
    private static partial Regex ShortName();

    /// <summary>The name that short letters stand for, v1 for Verse 1; null for any other.</summary>
    private static string? Spelt(string name) =>
        ShortName().Match(name) is { Success: true } match
            ? $"{char.ToLowerInvariant(match.Value[0]) switch { 'v' => "Verse", 'c' => "Chorus", _ => "Bridge" }} {match.Groups["number"].Value}".TrimEnd()
            : null;

    /// <summary>Looks ahead from the name of a section that has just been opened: where it is said to be the same as another, or
    /// has no chords, it follows one above.</summary>
    /// <param name="lines">All lines.</param>
    /// <param name="at">The line of the name.</param>
    /// <param name="behind">What stands behind the name in its line; empty for nothing.</param>
    private void Follow(List<(string Text, int Number)> lines, int at, string behind)
    {
        if (_section is not { Like: null } section || _sayNothing.Contains(section.Name)) return;
        var sung = new List<string>();
        var sungAt = 0;
        for (var i = behind.Length > 0 ? at : at + 1; i < lines.Count; i++)
        {
            var line = i == at ? behind : lines[i].Text.Length > ChartLimits.LongestLine ? "" : WithoutComment(lines, i);
            // What the hand plays is passed here, so that nobody looks past the same lines again and again.
            if (line.Length == 0 || PageDebris.IsRule(line) || IsStrum(line) || FigureText.IsFigure(line)) continue;
            if (sung.Count == 0 && SaidToBeSame(line, section.Name) is var (said, often))
            {
                if (section.Times == 1) section.Times = Times(often, lines[i].Number, 1);
                section.Like = said.Length > 0 ? Above(said) : FirstOfKind(section)?.Name;
                // A second one of its name is called otherwise in the end.
                if (section.Like == section.Name && FirstOfKind(section) is null) section.Like = null;
                if (section.Like is null) SayNobody(section, said, lines[i].Number);
                _taken.Add(i);
                return;
            }
            if (i > at && OpensSection(lines, i, line)) break;
            if (HasBars(line)) return;
            if (!IsLyrics(line)) continue;
            if (sung.Count == 0) sungAt = lines[i].Number;
            sung.Add(line);
        }
        if (FirstOfKind(section) is not { } first) return;
        var isNamesake = first.Name.Equals(section.Name, StringComparison.OrdinalIgnoreCase);
        if (isNamesake && HasTheseWords(first, sung)) return;
        if (isNamesake && !sung.Exists(IsSung))
        {
            // A name alone plays the section again; a remark under it has no bar to stand at.
            Problem(sungAt, 1,
                $"'{sung[0].Trim()}' under {section.Name} is left out, since nothing is written there; write the bars it "
                    + "means.");
            return;
        }
        // What itself only follows another stands for that one.
        while (first is { IsLikeAssumed: true, Like: { } like } && _sections.Find(s => s.Name == like) is { } before)
            first = before;
        (section.Like, section.IsLikeAssumed) = (first.Name, true);
    }

    /// <summary>What a line under a name says the section is the same as, and how often it is played then; null for any other
    /// line.</summary>
    private static (string Like, int Times)? SaidToBeSame(string line, string heading)
    {
        if (HeadingLine.SameAs(line, heading) is { } like) return (like, 1);
        return HeadingLine.Counted(line) is var (asked, often) && asked.Length < line.Length
            && HeadingLine.SameAs(asked, heading) is { } counted ? (counted, often) : null;
    }

    /// <summary>False for a remark: in brackets, or behind a dash of a list.</summary>
    private static bool IsSung(string line) => line.TrimStart()[0] is not ('(' or '-' or '–' or '*' or '•');

    private bool OpensSection(List<(string Text, int Number)> lines, int at, string line) =>
        _numbered.ContainsKey(at) || EndAbove(lines, at, line) is not null
            || HeadingLine.Alone(line, IsChord, NextHasBars(lines, at)) is not null
            || ByNameAbove(line) is not null || HeadingLine.WithBars(line, IsChord, IsChordLine) is not null
            || HeadingLine.WithWords(line) is not null;

    /// <summary>The word for the end above bars, which names them; null for any other line.</summary>
    private HeadingLine? EndAbove(List<(string Text, int Number)> lines, int at, string line) =>
        HeadingLine.IsEndName(line) && HasBars(Below(lines, at)) ? new("End", 1, line.Length) : null;

    /// <summary>True for a line with chords of its own; bars with a number belong to a section that follows.</summary>
    private bool HasBars(string line) =>
        !NumberedLine().IsMatch(line)
            && (line.Contains('[') || line.Contains('|') && PageDebris.Of(line, IsChord) is null || IsChordLine(line)
                || WithRoundChords(line) is not null);

    /// <summary>The first section above of the same name, a remark behind it aside, or of the same kind, that has something to
    /// play; else the bars at the head that have no name.</summary>
    private OpenSection? FirstOfKind(OpenSection section) =>
        _sections.Find(s => s != section && !s.IsEmpty && s.Name.Equals(section.Name, StringComparison.OrdinalIgnoreCase))
            ?? _sections.Find(s => s != section && !s.IsEmpty
                && (section.Name.StartsWith(s.Name + " (", StringComparison.OrdinalIgnoreCase)
                    || s.Name.StartsWith(section.Name + " (", StringComparison.OrdinalIgnoreCase)))
            ?? _sections.Find(s => s != section && !s.IsEmpty && HeadingLine.AreOfOneKind(s.Name, section.Name))
            ?? (HeadingLine.KindOf(section.Name) is { Length: > 0 and <= 3 } stem && stem.Length < section.Name.Length
                ? _sections.Find(s => s != section && !s.IsEmpty
                    && HeadingLine.KindOf(s.Name).Equals(stem, StringComparison.OrdinalIgnoreCase))
                : null)
            ?? (HeadingLine.AreOfOneKind("verse", section.Name) ? Nameless : null)
            ?? CalledInShort(section.Name)
            // A chorus may be called refrain where it stands.
            ?? (IsChorus(section) && _sections.FindAll(s => s != section && !s.IsEmpty && IsChorus(s)) is [var only]
                ? only
                : null);

    /// <summary>The section that a name in full means where sections are called V, C and B; beside A those are
    /// letters.</summary>
    private OpenSection? CalledInShort(string name)
    {
        if (_names.Contains("A")) return null;
        var brief = _sections.FindAll(s => !s.IsEmpty && Spelt(s.Name) is { } spelt && HeadingLine.AreOfOneKind(spelt, name));
        return brief.Find(s => Spelt(s.Name)!.Equals(name, StringComparison.OrdinalIgnoreCase))
            ?? (name.Any(char.IsAsciiDigit) ? null : brief.FirstOrDefault());
    }

    private static bool IsChorus(OpenSection section) => SectionNames.KindOf(section.Name) == SectionKind.Chorus;

    /// <summary>The first bars that stand under no heading; null where all do.</summary>
    private OpenSection? Nameless => _sections.Find(s => s is { Name: Unnamed, IsEmpty: false });

    /// <summary>True when a section of the same name only tells its words once more, or how they begin.</summary>
    private static bool HasTheseWords(OpenSection first, List<string> sung)
    {
        static string Letters(IEnumerable<string> words) =>
            string.Concat(string.Concat(words).Where(char.IsLetter)).ToLowerInvariant();
        var known = Letters(first.Like is not null
            ? first.Words
            : first.Bars.SelectMany(b => b.Slots.Select(s => s.Lyric).Prepend(b.Lead)));
        return known.StartsWith(Letters(sung), StringComparison.Ordinal);
    }

    private void SayNobody(OpenSection section, string said, int line)
    {
        Problem(line, 1,
            $"There is no section '{(said.Length > 0 ? said : HeadingLine.KindOf(section.Name))}' above this one; name one that "
                + "stands above, or write the bars.");
        _sayNothing.Add(section.Name);
    }
}
