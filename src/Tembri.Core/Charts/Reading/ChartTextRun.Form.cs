using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>The form: which section is played when, as far as a chart may be long.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>The form as far as it is played: no more parts and no more bars than a chart may have.</summary>
    private List<FormPart> InLimits(List<FormPart> form, Dictionary<string, Section> sections, int line)
    {
        var (kept, bars) = (new List<FormPart>(), 0);
        foreach (var part in form)
        {
            if (kept.Count == ChartLimits.MostFormParts)
            {
                Problem(line, 1,
                    $"A form has at most {ChartLimits.MostFormParts} parts; what follows {part.Section} is left out.");
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

    /// <summary>True for a list of chords, <c>Verse chords: D A</c>, that is played where the section itself stands.</summary>
    private bool IsOnlySaid(OpenSection section) =>
        section.Name.EndsWith(" chords", StringComparison.OrdinalIgnoreCase) && _sections.Exists(s => s.Like == section.Name);

    /// <summary>Letters without a blank, as the form of a song is told: <c>AABA</c>.</summary>
    [GeneratedRegex(@"^\s*(?<letters>[A-H]{3,12})\s*(?:\(?(?:[x×]\s?(?<times>[1-9])|(?<times>[1-9])\s?[x×])\)?\s*)?$")]
    private static partial Regex FormOfLetters();

    /// <summary>The letters of a line that may tell a form, as often as it says; null for any other.</summary>
    private static string? LettersOfForm(string line) =>
        FormOfLetters().Match(line) is { Success: true } match && match.Groups["letters"].Value is var letters
            && letters.Distinct().Count() > 1
                ? string.Concat(Enumerable.Repeat(letters, match.Groups["times"].Success ? match.Groups["times"].Value[0] - '0' : 1))
                : null;

    /// <summary>A section called by one letter, or as the part of a letter, alone in its line or before its bars.</summary>
    [GeneratedRegex(@"^\s*(?:\[\s*(?<letter>[A-H])\s*\]\s*:?|(?:[Pp]art\s|[Ss]ection\s)?(?<letter>[A-H])(?:\s(?:part|section))?\s*:)\s*(?:\||$|[A-H])")]
    private static partial Regex CalledByLetter();

    /// <summary>A line such as AABA is the form where each of its letters, two or more, names a section.</summary>
    private static void FindLettersOfForm(List<(string Text, int Number)> lines)
    {
        var at = lines.FindIndex(l => LettersOfForm(l.Text) is not null);
        if (at < 0 || lines.Exists(l => l.Text.Length <= ChartLimits.LongestLine && ChartHeader.IsForm(l.Text))) return;
        var letters = LettersOfForm(lines[at].Text)!;
        var named = lines.Where(l => l.Text.Length <= ChartLimits.LongestLine).Select(l => CalledByLetter().Match(l.Text))
            .Where(m => m.Success).Select(m => m.Groups["letter"].Value[0]).ToHashSet();
        if (letters.All(named.Contains))
            lines[at] = ($"form: {string.Join(", ", letters.AsEnumerable())}", lines[at].Number);
    }

    /// <summary>What stands before the order of the sections without naming it.</summary>
    [GeneratedRegex(@"^\s*(?:(?:we\s+)?(?:play|sing|goes)(?:\s*[:=–-])?|song\s*[:=]|form|order|structure|arrangement)\s+(?=\p{L})", LinePatterns.AnyCase)]
    private static partial Regex AskedToPlay();

    /// <summary>The order of sections above that a line asks for, <c>Play A A B A</c>; null for any other line.</summary>
    private string? AskedForm(string line)
    {
        if (_sections.Count < 2 || line.Length > LongestNaming
            || AskedToPlay().Match(line) is not { Success: true, Length: var at })
            return null;
        // A count behind it is that of all: Play A A B A twice.
        var (order, times) = HeadingLine.Counted(line[at..]);
        return FormLine.Read(order, [.. _sections.Select(s => new Section(s.Name, []))]) is ({ Count: > 2 }, [])
            ? string.Join(", ", Enumerable.Repeat(order, Math.Clamp(times, 1, ChartLimits.MostTimes)))
            : null;
    }

    /// <summary>True for an order without the word for it that leaves out every verse, where the chart has some above: it goes
    /// on from there, <c>Pre-chorus / Chorus / Chorus</c>.</summary>
    private bool GoesOn(List<FormPart> parts, int line) =>
        _header.Form is null && _sections.Exists(IsVerse) && _sections.TrueForAll(s => s.Line < line)
            && !parts.Exists(p => _sections.Exists(s => s.Name == p.Section && IsVerse(s)));

    private static bool IsVerse(OpenSection section) =>
        !section.IsEmpty && (section.Name == Unnamed || SectionNames.KindOf(section.Name) == SectionKind.Verse);

    private int _formLine;
    private bool _formIsByOrder;
    private (string Text, int Line)? _formByItself;   // counts where no line says that it is the form

    private bool IsFormByItself(string line) => FormLine.IsLike(line.Trim(' ', '*', '_'), IsChord, _versesByNumber);

    /// <summary>The order of the sections without the word for it: names of sections and nothing else, three or more.</summary>
    private bool TryFormByItself(List<(string Text, int Number)> lines, int at)
    {
        var (line, number) = lines[at];
        if (AskedForm(line) is { } asked) line = asked;
        else if (!IsFormByItself(line) && !AreLettersOfSections(lines, at)) return false;
        // A count behind letters is that of all of them.
        else if (HeadingLine.CountAt(line) is { Times: > 1 and var often, At: var count } && !IsFormByItself(line))
            line = string.Join(", ", Enumerable.Repeat(line[..count].Trim(), Math.Min(often, ChartLimits.MostTimes)));
        // Several lines are one order, as far as a line may be long.
        if (_formByItself is not { } before) _formByItself = (line.Trim(), number);
        else if (before.Text.Length < ChartLimits.LongestLine) _formByItself = ($"{before.Text}, {line.Trim()}", before.Line);
        return true;
    }

    /// <summary>A line behind all bars, or apart between two sections, that holds nothing but letters its sections are called
    /// by: A A B A.</summary>
    private bool AreLettersOfSections(List<(string Text, int Number)> lines, int at)
    {
        if (at == 0 || lines[at].Text.Length > LongestNaming
            || lines[at - 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } above && !above.Contains('|')
                && HeadingLine.WithBars(above, IsChord, IsChordLine) is null)
            return false;
        var letters = WithoutCount(lines[at].Text).Split([' ', ',', '-'], StringSplitOptions.RemoveEmptyEntries);
        if (letters.Length < 3 || letters.Distinct().Count() < 2
            || !letters.All(l => l.Length == 1 ? IsLetterOfSection(l) : l.Length <= LongestBrief && _names.Contains(l)))
            return false;
        var next = lines.FindIndex(at + 1, l => l.Text.Length > 0);
        return next < 0 || next > at + 1 && OpensSection(lines, next, lines[next].Text);
    }

    private const int LongestBrief = 4;   // of a name in short: M8, Pre, V2

    private bool IsLetterOfSection(string letter) =>
        _names.Contains(letter)
            || HeadingLine.BesideALetter.Any(w => _names.Contains($"{letter} {w}")
                || _names.Any(n => $"{n} (".StartsWith($"{w} {letter} (", StringComparison.OrdinalIgnoreCase)));

    /// <summary>The letter by which a form means the one section that has no name; null where it may mean something
    /// else.</summary>
    private static string? LetterOfUnnamed(IReadOnlyList<string> unknown, Dictionary<string, Section> sections) =>
        sections.Count > 1 && sections.ContainsKey(Unnamed) && !sections.ContainsKey($"{Unnamed} (2)")
            && unknown.Where(u => !u.StartsWith('(')).Distinct().ToList() is [[>= 'A' and <= 'H'] letter]
            ? letter
            : null;

    /// <summary>The form the chart tells, and where; null when it tells none.</summary>
    private (List<FormPart> Parts, int Line)? ReadForm(Dictionary<string, Section> sections)
    {
        if ((_header.Form ?? _formByItself) is not { } form) return null;
        var (parts, unknown) = FormLine.Read(form.Text, sections.Values);
        if (unknown.Count > 0 && FormLine.InOrder(form.Text, sections.Values) is { } inOrder)
        {
            Problem(form.Line, 1,
                $"'{form.Text.Trim()}' is read as {string.Join(", ", inOrder.Select(p => p.Section))}: A is the first section here, B the "
                    + "second. Write their names where something else is meant.");
            (parts, unknown, _formIsByOrder) = (inOrder, [], true);
        }
        if (LetterOfUnnamed(unknown, sections) is { } letter)
        {
            (parts, unknown) = FormLine.Read(form.Text,
                [.. sections.Values.Select(s => s.Name == Unnamed ? s with { Name = letter } : s)]);
            parts = parts.ConvertAll(p => p.Section == letter ? p with { Section = Unnamed } : p);
            _formIsByOrder = true;
            Problem(form.Line, 1,
                $"No section is called {letter}; the bars without a name are taken for it. Write {letter} in a line above them.");
        }
        if (_header.Form is null && unknown.Count > 0)
        {
            Problem(form.Line, 1,
                $"This line reads like the order of the sections, but '{unknown[0]}' is not in the chart; it is left out. Write "
                    + "form: in front of it, and names of sections that stand here.");
            return null;
        }
        foreach (var name in unknown)
            Problem(form.Line, 1, name.StartsWith('(')
                ? $"'{name}' in the form is not followed; write what is played there as a section of its own."
                : $"The form names a section '{name}' that is not in the chart; check its spelling.");
        _formLine = form.Line;
        return parts.Count > 0 ? (parts, form.Line) : null;
    }
}
