using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Words that begin behind an intro or a solo without a heading: they are no part of it.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>What is sung without words, in an intro as well.</summary>
    [GeneratedRegex(@"^(?:\W*(?:o+h*|a+h*|la+|na+|h?mm+|hey|yeah|who?a+h?|do+|da+|du+|ba+|uh+|eh+|hoo+)\b)+\W*$", LinePatterns.AnyCase)]
    private static partial Regex Vocables();

    /// <summary>Words, the first of which may be short: I see, On a hill, Tin roof.</summary>
    [GeneratedRegex(@"^\s*\p{L}*\p{Ll}{3}|^[\s""“„'’‘¿¡]*\p{L}{1,12}(?:['’]\p{L}{1,3})?[,.;:!?…]{0,3}\s(?=.*\p{Ll}{3})")]
    private static partial Regex BeginsSung();

    [GeneratedRegex(@"\[[^\[\]]*\]")]
    private static partial Regex ChordsInBrackets();

    /// <summary>A part that is played, and seldom sung, by its name; an intro and a verse in one may be.</summary>
    private static bool IsPlayed(string name) =>
        (SectionNames.KindOf(name) is SectionKind.Intro or SectionKind.Interlude or SectionKind.Solo
            || Array.Exists(Played, p => name.StartsWith(p, StringComparison.OrdinalIgnoreCase)))
        && !name.AsSpan().ContainsAny("/&+,") && !name.Contains(" and ", StringComparison.OrdinalIgnoreCase);

    private OpenSection? _tablatureIn;   // where a stave was left out

    private static readonly string[] Played = ["instr", "riff", "vamp", "lick"];

    /// <summary>Opens a section without a name where words begin behind bars of an intro, a solo or the like, and a blank line
    /// or the end of their own line parts them; that is said.</summary>
    private void OpenWhereSungBegins(List<(string Text, int Number)> lines, int at)
    {
        if (_section is not { Like: null, OpenRepeat: null } section || !IsPlayed(section.Name)
            || section.Bars.Count == 0 && section != _tablatureIn || _namesStandBehind == section || at == 0
            || lines[at - 1].Text.Length > 0
                && (section.Bars.Count == 0 || !section.Bars.TrueForAll(b => b.Slots.All(s => s.Line == section.Line)))
            || section.Bars.Exists(b => b.Lead.Length > 0 || b.Slots.Any(s => s.Lyric.Length > 0)))
            return;
        for (var i = at; i < lines.Count && lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line; i++)
        {
            if (i > at && HeadingLine.Alone(line, IsChord, beforeBars: true) is not null) return;
            if (!(line.Contains('[') ? IsSung(ChordsInBrackets().Replace(line, "")) : i > at && IsLyrics(line) && IsSung(line))) continue;
            Problem(lines[at].Number, 1,
                $"Words begin here, and {section.Name} above has none, so from here on it is a section of its own. Write its name in a line "
                    + "above, such as Verse 1.");
            Open(Unnamed, 1, lines[at].Number);
            return;
        }

        static bool IsSung(string words) => BeginsSung().IsMatch(words) && !Vocables().IsMatch(words);
    }
}
