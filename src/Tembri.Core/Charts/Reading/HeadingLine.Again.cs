using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Names that are said to be like another: in their own line, or in the line below.</content>
internal sealed partial record HeadingLine
{
    /// <summary>What says that one section is the same as another, here and elsewhere.</summary>
    internal const string AsWords =
        @"(?:(?:the\s+)?same(?:\s+chords)?\s+as|chords\s+(?:as|like|of|from)|as|like|wie|comme|como|come|igual\s+(?:que|a)|idem\s+que|pareil\s+que|uguale\s+a|samma\s+som|som|zoals|jako?)";

    /// <summary>The article in front of a name that stands behind such words.</summary>
    private const string Article = @"(?:(?:the|l[ae]|el|il|d[ei]e|der|das|den|het|o|a)\s+)?";

    /// <summary>A part without words and the one whose chords it plays: <c>Instr.: verse 1x</c>, <c>Outro: chorus
    /// x2</c>.</summary>
    [GeneratedRegex("^" + Ornament + @"(?<name>(?:intro|solo|instr(?:umental)?|interlude|outro|ending|zwischenspiel|nachspiel|vorspiel)(?:\s[1-9])?)(?>\.?\s*)(?:[\])]\s*)?[:=–-]\s*(?:the\s)?(?<like>"
            + KnownNames + @")(?:\s+chords)?(?:\s*" + Count + @")?\.?" + Ornament + "$", LinePatterns.AnyCase)]
    private static partial Regex PlaysAgain();

    /// <summary>A line under a name that says which section it is the same as: <c>(same as Verse 1)</c>, <c>verse chords</c>, or
    /// only that it is the same.</summary>
    [GeneratedRegex(@"^[\s(\[*_]*(?:(?<same>m[êe]mes\s+accords|(?:die\s+)?(?:selben|gleichen?)\s+akkorde|mismos\s+acordes|mesmos\s+acordes|stessi\s+accordi|(?:the\s+)?same(?:\s+(?:chords|changes|progression))?(?:\s+as\s+(?:above|before))?|(?:chords\s+)?as\s+(?:above|before))"
            + "|(?<as>(?:" + AsWords + @"|chords\s+(?:as|of|from)|over|(?<repeat>repeat))\s+(?:in\s+)?)?" + Article + "(?<like>"
            + KnownNames + "(?(as)" + Letter + @"))(?(as)(?:\s+chords)?(?:,?\s(?:and|to)\s(?:fade(?:\sout)?|(?:the\s)?end))?|\s+chords))[\s).:\]*_]*$", LinePatterns.AnyCase)]
    private static partial Regex SameLine();

    /// <summary>A name and the one it follows: Verse 2: as Verse 1, Verse 2 (same as Verse 1).</summary>
    [GeneratedRegex(@"^(?<name>.+?)(?:\s*(?<mark>[:,(–—-])\s*|\s+)(?:the\s+)?(?:same\s+)?as\s+(?<like>.+?)\)?$",
        RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    internal static partial Regex LikeAnother();

    [GeneratedRegex(@"^\s*(?:(?<name>" + KnownNames + Letter + @")(?:\s*:)?|(?<name>\p{L}{1,4}[0-9]{0,2})(?:\s*[:)]|(?=\s+(?:same|as|like|=)\s)))\s*(?:\(\s*)?"
            + @"(?:over|same\s+as|rpt\.?|repeat|" + AsWords + @"|=)\s+" + Article + @"(?<like>[\p{L}\p{N}][\p{L}\p{N} .'’-]{0,40})\)?\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex Like();

    /// <summary>A name and, behind it, the name it is played like, whatever that is called: Solo over Vs, V2: (as V1), Solo =
    /// riff; null for any other line.</summary>
    public static (string Name, string Like)? LikeNamed(string line)
    {
        if (Like().Match(line) is not { Success: true } match) return null;
        var like = match.Groups["like"].Value.Trim();
        return (NameIn(match), KindOfPart().Replace(like, ""));
    }

    [GeneratedRegex(@"\s+(?:chords|changes|part|section)$", LinePatterns.AnyCase)]
    private static partial Regex KindOfPart();
}
