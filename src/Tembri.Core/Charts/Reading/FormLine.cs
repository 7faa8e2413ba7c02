using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>The order of the sections as people write it: names, or how they begin, between commas, dashes, strokes, arrows or
/// blanks, with counts before or behind them.</summary>
internal sealed partial class FormLine
{
    private readonly string _text;
    private readonly IReadOnlyCollection<Section> _sections;
    private readonly Dictionary<string, int> _said = new(StringComparer.OrdinalIgnoreCase);   // how often a kind was named
    private readonly List<FormPart> _parts = [];
    private readonly List<string> _unknown = [];
    private int _at;

    private FormLine(string text, IReadOnlyCollection<Section> sections) => (_text, _sections) = (text, sections);

    /// <summary>Reads a form.</summary>
    /// <param name="text">What stands behind its name.</param>
    /// <param name="sections">The sections of the chart.</param>
    /// <returns>The parts, a few more than a form may have at most, and what names no section.</returns>
    public static (List<FormPart> Parts, List<string> Unknown) Read(string text, IReadOnlyCollection<Section> sections)
    {
        var whole = Of(text, sections);
        // A remark behind the last part, (last chorus a cappella), is none, nor are the names in it.
        return whole.Unknown.Exists(u => u.Contains(')') && !u.Contains('('))
            && RemarkBehind().Match(text) is { Success: true } behind
            && Of(text[..behind.Index], sections) is var rest
                ? (rest.Parts, [.. rest.Unknown, behind.Value.Trim()])
                : whole;
    }

    private static (List<FormPart> Parts, List<string> Unknown) Of(string text, IReadOnlyCollection<Section> sections)
    {
        var line = new FormLine(text, sections);
        while (line._parts.Count <= ChartLimits.MostFormParts && line.Next()) { }
        return (line._parts, line._unknown);
    }

    [GeneratedRegex(@"(?<=\S)\s{1,4}\((?<said>[^()]{3,60})\)\s*$")]
    private static partial Regex RemarkBehind();

    [GeneratedRegex(@"\G(?<times>[0-9]{1,2})\s*[x×]\s*(?=\p{L})", LinePatterns.AnyCase)]
    private static partial Regex CountBefore();

    [GeneratedRegex(@"\G\s*(?:\(\s*)?(?:[x×]\s*(?<times>[0-9]{1,2})|(?<times>[0-9]{1,2})\s*(?:[x×]|times)(?!\s*\p{L})"
            + @"|(?<twice>twice))(?:\s*\))?", LinePatterns.AnyCase)]
    private static partial Regex CountBehind();

    [GeneratedRegex(@"\G[\p{L}\p{N}'’.]+(?<more>[\s-]+[\p{L}\p{N}'’.]+)?")]
    private static partial Regex Words();

    [GeneratedRegex(@"\G[^,;/|>→+]+")]
    private static partial Regex Piece();

    [GeneratedRegex(@"\G\p{L}+\s+[0-9]{1,2}(?![\p{L}\p{N}]|\s*(?:[x×]|times)\b)", LinePatterns.AnyCase)]
    private static partial Regex Numbered();

    /// <summary>Takes the next part; false at the end.</summary>
    private bool Next()
    {
        var times = 1;
        if (_at >= _text.Length) return false;
        if (CountBefore().Match(_text, _at) is { Success: true } first)
        {
            times = Number(first.Groups["times"]);
            _at += first.Length;
        }
        // A name may be made of signs; any others part names.
        var exact = _sections.Where(s => Stands(s.Name)).MaxBy(s => s.Name.Length);
        if (exact is null && !char.IsLetterOrDigit(_text[_at]))
        {
            // A remark in brackets is one thing; names in brackets are played like any others.
            if (Bracket().Match(_text, _at) is { Success: true } bracket && !NamesOne(bracket.Groups["inside"].Value))
            {
                _unknown.Add(bracket.Value);
                _at += bracket.Length;
            }
            else _at++;
            return true;
        }
        if ((exact is not null ? Take(exact, exact.Name.Length) : Meant()) is not { } section)
        {
            if (!TakeLetters()) Leave();
            return true;
        }
        _parts.Add(new(section.Name, Math.Clamp(TakeCount() ?? times, 1, ChartLimits.MostTimes)));
        return true;
    }

    [GeneratedRegex(@"\G\((?=[^()]*?\p{L}{2})(?<inside>(?>[^()]+))\)")]
    private static partial Regex Bracket();

    /// <summary>True when at least one section is named.</summary>
    private bool NamesOne(string text) => Read(text, _sections).Parts.Count > 0;

    private static int Number(Group digits) => Number(digits.Value);

    private static int Number(string digits) => int.Parse(digits, CultureInfo.InvariantCulture);

    /// <summary>The section that is meant by the next word or two.</summary>
    private Section? Meant()
    {
        var words = Words().Match(_text, _at);
        if (!words.Success) return null;
        var more = words.Groups["more"];
        // A number in front of a name is a part of its own: 1 2 1 Chorus.
        if (more.Success && words.ValueSpan[..(more.Index - words.Index)].ContainsAnyExceptInRange('0', '9')
            && HeadingLine.IsKnown(words.Value))
        {
            if (OfKind(words.Value) is { } two) return Take(two, words.Length);
            // Verse 3 is not the first verse and a 3.
            if (Numbered().IsMatch(_text, _at)) return null;
        }
        var word = _text[_at..(more.Success ? more.Index : _at + words.Length)];
        return (With(word) ?? OfKind(word)) is { } one ? Take(one, word.Length) : null;
    }

    private Section Take(Section section, int length)
    {
        _at += length;
        return section;
    }

    private bool Stands(string name) =>
        name.Length > 0 && string.Compare(_text, _at, name, 0, name.Length, StringComparison.OrdinalIgnoreCase) == 0
            && (_at + name.Length == _text.Length || !char.IsLetterOrDigit(_text[_at + name.Length])
                || !char.IsLetterOrDigit(name[^1]));

    /// <summary>The only section that is called so with a word or a remark more, as A means A section and Bridge means Bridge
    /// (half time).</summary>
    private Section? With(string word)
    {
        var longer = _sections.Where(s => s.Name.StartsWith(word + " (", StringComparison.OrdinalIgnoreCase)
            || HeadingLine.BesideALetter.Any(w => s.Name.Equals($"{word} {w}", StringComparison.OrdinalIgnoreCase)
                || s.Name.Equals($"{word}-{w}", StringComparison.OrdinalIgnoreCase)
                || s.Name.Equals($"{w} {word}", StringComparison.OrdinalIgnoreCase)
                || s.Name.StartsWith($"{w} {word} (", StringComparison.OrdinalIgnoreCase))
            || NumberOfVerse().IsMatch(word) && HeadingLine.IsKnown(s.Name)
                && s.Name.EndsWith($" {word}", StringComparison.OrdinalIgnoreCase)).Take(2).ToList();
        return longer.Count == 1 ? longer[0] : null;
    }

    [GeneratedRegex(@"^(?<kind>[a-z]{1,4}?)\.?(?<number>[0-9]{1,2})?\.?$", LinePatterns.AnyCase)]
    private static partial Regex Short();

    [GeneratedRegex(@"[0-9]{1,2}")]
    private static partial Regex Digits();

    [GeneratedRegex(@"^(?:[IVX]{1,4}|[0-9]{1,2})$")]
    private static partial Regex NumberOfVerse();

    /// <summary>A section by its kind, in full or by how it begins: the one of that number, or without a number the first, the
    /// next time the next.</summary>
    private Section? OfKind(string word)
    {
        var kind = word;
        var number = Digits().Match(word).Value;
        if (Short().Match(word) is { Success: true } brief)
        {
            var full = KindOf(brief.Groups["kind"].Value);
            if (full is not null) (kind, number) = (full, brief.Groups["number"].Value);
        }
        var alike = _sections.Where(s => HeadingLine.AreOfOneKind(s.Name, kind)).ToList();
        // A section may be called in short: Verse, or P, for V and Pre. Beside A the letters B and C are no kinds.
        if (alike.Count == 0 && !_sections.Any(s => s.Name.Equals("A", StringComparison.OrdinalIgnoreCase)))
            alike = [.. _sections.Where(s => Short().Match(s.Name) is { Success: true } called
                && KindOf(called.Groups["kind"].Value) is { } full && (full == kind || HeadingLine.AreOfOneKind(full, kind)))];
        if (number == word)
            return _text.Any(c => char.IsLetter(c) && c is not ('x' or 'X')) ? null : _sections.FirstOrDefault(s => s.Name == $"Verse {word}");
        if (number.Length > 0)
            return alike.Find(s => Digits().Matches(s.Name).Any(m => m.Value == number))
                // Where none has a number they are counted.
                ?? (alike.Count > 0 && !alike.Exists(s => Digits().IsMatch(s.Name)) && Number(number) > 0
                    ? alike[Math.Min(Number(number), alike.Count) - 1]
                    : null);
        if (alike.Count == 0) return null;
        _said[kind] = _said.GetValueOrDefault(kind) + 1;
        return alike[Math.Min(_said[kind], alike.Count) - 1];
    }

    private static string? KindOf(string brief) =>
        brief.ToLowerInvariant() switch
        {
            "i" or "in" or "int" => "intro",
            "v" or "vs" or "ver" => "verse",
            "c" or "ch" or "cho" => "chorus",
            "p" or "pc" or "pre" => "pre-chorus",
            "r" or "ref" => "refrain",
            "b" or "br" => "bridge",
            "s" => "solo",
            "inst" => "instrumental",
            "t" => "tag",
            "e" or "end" => "ending",
            "o" or "out" => "outro",
            _ => null,
        };

    /// <summary>Takes the count behind a part; null where there is none.</summary>
    private int? TakeCount()
    {
        if (CountBehind().Match(_text, _at) is not { Success: true } count) return null;
        _at += count.Length;
        return count.Groups["twice"].Success ? 2 : Number(count.Groups["times"]);
    }

    /// <summary>Letters close together, AABA, when each of them is a section.</summary>
    private bool TakeLetters()
    {
        var word = Words().Match(_text, _at);
        if (!word.Success) return false;
        var close = word.Groups["more"] is { Success: true } more ? word.Value[..(more.Index - word.Index)] : word.Value;
        if (close.Length < 2) return false;
        var letters = close.Select(c => c.ToString()).Select(
            c => _sections.FirstOrDefault(s => s.Name.Equals(c, StringComparison.OrdinalIgnoreCase)) ?? With(c)).ToList();
        if (letters.Contains(null)) return false;
        _at += close.Length;
        for (var times = TakeCount() ?? 1; times > 0 && _parts.Count <= ChartLimits.MostFormParts; times--)
            _parts.AddRange(letters.Select(s => new FormPart(s!.Name, 1)));
        return true;
    }

    [GeneratedRegex("^[A-H](?:[ ,-]{0,2}[A-H]){1,15}$")]
    private static partial Regex Letters();

    /// <summary>Letters for sections that nothing calls so: A for the first, B for the second and so on, where there are as many
    /// as sections. Null for any other form.</summary>
    public static List<FormPart>? InOrder(string text, IReadOnlyCollection<Section> sections)
    {
        if (text.Length > LongestByItself || !Letters().IsMatch(text.Trim())) return null;
        var letters = text.Where(char.IsAsciiLetter).ToList();
        return letters.Distinct().Count() == sections.Count && letters.Max() - 'A' == sections.Count - 1 && sections.Count > 1
            ? letters.ConvertAll(c => new FormPart(sections.ElementAt(c - 'A').Name, 1))
            : null;
    }

    /// <summary>Leaves out what names nothing: up to the next sign between parts, or where there is none, a word.</summary>
    private void Leave()
    {
        var piece = Piece().Match(_text, _at);
        var isParted = _text.AsSpan().IndexOfAny(",;/|>→+") >= 0;
        var word = Numbered().Match(_text, _at) is { Success: true } numbered ? numbered.Length
            : _text.AsSpan(_at).IndexOf(' ') is > 0 and var end ? end
            : _text.Length - _at;
        var length = isParted && piece.Success ? piece.Length : word;
        _unknown.Add(_text.Substring(_at, length).Trim());
        _at += length;
    }
}
