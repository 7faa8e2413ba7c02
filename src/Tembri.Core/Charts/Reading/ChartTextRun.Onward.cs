using System.Buffers;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Lines that say how the song goes on without bars of their own: <c>Repeat verse and chorus</c>, <c>Back to
/// verse</c>, <c>Chorus again</c>, <c>Repeat all x2</c>, <c>End on D</c>.</content>
internal sealed partial class ChartTextRun
{
    private const int LongestOnward = 80;

    private static readonly string[] Everything =
        ["all", "everything", "it all", "song", "whole song", "entire song", "from top", "from beginning", "from start",
            "top", "beginning", "start", "everything from top", "all from top", "everything from beginning", "all from beginning"];

    private const string Onwards = @"^[\s(*_-]*(?>(?:(?:and|then|now|finally)(?:,\s|\s+)){0,2})";

    /// <summary>A line that asks for what it names: repeat, play, back to, finish with.</summary>
    [GeneratedRegex(Onwards + @"(?:repeat|(?:rpt|rep)\b\.?|play|sing|do|(?:(?:go\s)?back|go|return|jump|on)\sto|(?<to>to)(?=\s(?:the\s)?" + HeadingLine.KnownNames + @"\W{0,3}$)|(?:go\sback|again)(?=\sfrom)|(?:ends?|finish(?:es)?)\swith)(?>\s+)(?<what>[^|\[\]{}]+)$",
        LinePatterns.AnyCase)]
    private static partial Regex Asked();

    [GeneratedRegex("(?<then>" + Onwards + ")", LinePatterns.AnyCase)]
    private static partial Regex Then();

    private const string OnceMore = @"\s(?:again|once\smore|one\s(?:more|last)\stime|a\s(?:second|third|last)\stime)";

    [GeneratedRegex(OnceMore + "$", LinePatterns.AnyCase)]
    private static partial Regex AsksOnceMore();

    private static readonly SearchValues<string> AsksAgain = SearchValues.Create(
        ["repeat", "rpt", "rep", "play", "sing", "do ", "to ", "with ", "again", "more", "time", "then"], StringComparison.OrdinalIgnoreCase);

    private static readonly char[] AroundWords = [' ', '.', '*', '_', '(', ')', '-', '!'];

    [GeneratedRegex(@",?\s(?:and|to)\s+(?:fade(?:\s+out)?|(?:the\s)?(?:end|finish|close))$", LinePatterns.AnyCase)]
    private static partial Regex Fading();

    [GeneratedRegex(@"(?<!\s)\s*[,;&+]\s*(?:and\s|then\s)?|(?<!\s)\s(?:and|then)\s", LinePatterns.AnyCase)]
    private static partial Regex Listed();

    /// <summary>What is remarked behind words that ask for a section once more: <c>Verse again (quiet)</c>.</summary>
    [GeneratedRegex(OnceMore + @"(?<mark>(?>\s*)[(,–—-]\s*)(?<remark>[^()|\[\]{}]{1,40})\)?\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex AgainRemarked();

    /// <summary>The section a line asks for once more and what it remarks of it, a count among it; null for any other
    /// line.</summary>
    private (string Name, int Times, string Remark)? AskedWithRemark(string line)
    {
        if (line.Length > LongestOnward || AgainRemarked().Match(line) is not { Success: true } match
            || AskedAgain(line[..match.Groups["mark"].Index]) is not ([var (name, often)], var times))
            return null;
        var (remark, said) = HeadingLine.Counted(match.Groups["remark"].Value.Trim());
        return remark.Length == 0 ? null : (name, Math.Clamp(often * times * said, 1, ChartLimits.MostTimes), remark);
    }

    /// <summary>The sections a line asks for once more, each with how often, in order, and how often all of it; null for any
    /// other line.</summary>
    private (List<(string Name, int Times)> Once, int Times)? AskedAgain(string line)
    {
        if (line.Length > LongestOnward || !line.AsSpan().ContainsAny(AsksAgain)) return null;
        var verb = Asked().Match(line);
        var asked = (verb.Success ? verb.Groups["what"].Value : line).Trim(AroundWords);
        var then = Then().Match(asked);
        asked = asked[then.Length..];
        // A count may stand behind it: Verse again x2.
        asked = Fading().Replace(asked, "");
        var (bare, after) = HeadingLine.Counted(asked);
        var more = AsksOnceMore().Match(bare);
        if (more.Success) asked = bare;
        else after = 1;
        // Without a word that asks, a name alone is a heading, and words are words.
        if (!verb.Success && !more.Success && then.Value.Trim().Length == 0
            // The first of several may say it: A again, then B twice.
            && !(asked.Contains(',') && AsksOnceMore().IsMatch(asked.Split(',', 2)[0])))
            return null;
        if (more.Success) asked = asked[..more.Index].TrimEnd(' ', ',');
        var (what, times) = HeadingLine.Counted(asked);
        times *= after;
        var once = new List<(string, int)>();
        if (Everything.Contains(WithoutArticles(what), StringComparer.OrdinalIgnoreCase))
        {
            if (!verb.Success) return null;
            once.AddRange(_sections.Select(s => (s.Name, s.Times)));
        }
        else
        {
            foreach (var piece in Listed().Split(what))
            {
                var (name, often) = HeadingLine.Counted(WithoutArticles(AsksOnceMore().Replace(EndsWithIt().Replace(piece, ""), "")));
                if ((Above(name) ?? (HeadingLine.AreOfOneKind("verse", name) ? Nameless?.Name : null)) is not { } known) return null;
                once.Add((known, Math.Clamp(often, 1, ChartLimits.MostTimes)));
            }
            // Behind "then" a count is that of the last one alone.
            if (times > 1 && once.Count > 1 && Listed().Matches(what)[^1].Value.Contains("then", StringComparison.OrdinalIgnoreCase))
                (once[^1], times) = ((once[^1].Item1, Math.Clamp(times, 1, ChartLimits.MostTimes)), 1);
        }
        return (once, Math.Clamp(times, 1, ChartLimits.MostTimes));
    }

    [GeneratedRegex(@"^(?:ends?|finish(?:es)?)\swith\s", LinePatterns.AnyCase)]
    private static partial Regex EndsWithIt();

    /// <summary>Tells lines that ask for sections of these names once more.</summary>
    internal static Func<string, bool> RepeatsAmong(IEnumerable<string> names)
    {
        var run = new ChartTextRun();
        foreach (var name in names)
        {
            run._names.Add(name);
            run._sections.Add(new OpenSection(name, 1, 0));
        }
        return line => run.AskedAgain(LineTidy.Of(line).TrimEnd()) is not null && !HeadingLine.IsKnown(line);
    }

    private static string WithoutArticles(string words) =>
        string.Join(' ', words.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(w => !w.Equals("the", StringComparison.OrdinalIgnoreCase)));

    [GeneratedRegex(@"^[\s(*_-]*(?:(?:and|then|but|and then|but then)\s+)?\[?(?:ends?|finish(?:es)?|(?:go\s)?out)\]?\s+(?:on|with)\s+(?:an?\s+)?(?<chord>[A-H]\S{0,11}?)[\s.)*_]*$", LinePatterns.AnyCase)]
    private static partial Regex EndOn();

    /// <summary>Where the chord stands that a line ends the song on; null for any other line.</summary>
    private Group? LastChord(string line) =>
        line.Length <= LongestOnward && EndOn().Match(line) is { Success: true } match && match.Groups["chord"] is var chord
            && char.IsAsciiLetterUpper(chord.Value[0]) && IsChord(chord.Value)
                ? chord
                : null;

    /// <summary>What a line in square brackets says of how the song goes on, <c>[End on C]</c>, without them; null for any other
    /// line.</summary>
    private string? OnwardInBrackets(string line) =>
        line.AsSpan().Trim() is ['[', _, .., ']'] && line.Replace('[', ' ').Replace(']', ' ') is var inside && IsOnward(inside)
            && !HeadingLine.IsKnown(inside)
                ? inside
                : null;

    private bool IsOnward(string line) =>
        AskedAgain(line) is not null || AskedWithRemark(line) is not null || LastChord(line) is not null;

    /// <summary>The section that has just been named, where it has no bars yet and nothing says what it is; null for any
    /// other.</summary>
    private OpenSection? NewWithoutBars() =>
        _section is { Bars.Count: 0, Words.Count: 0 } here && _lead.Length == 0 && (here.Like is null || here.IsLikeAssumed)
                && !_sections.Exists(s => s != here && s.Name.Equals(here.Name, StringComparison.OrdinalIgnoreCase))
            ? here
            : null;

    [GeneratedRegex(@"^[\s(*_-]*to\s|\b(?:back|go|return|jump|on)\s+to\s", LinePatterns.AnyCase)]
    private static partial Regex SendsTo();

    /// <summary>Takes a line that says how the song goes on.</summary>
    /// <param name="line">The line.</param>
    /// <param name="number">Its number.</param>
    /// <param name="below">The next line that says anything; empty when there is none.</param>
    private bool TryOnward(string line, int number, string below)
    {
        if (_sections.Count == 0 || IsFull) return false;
        if (AskedAgain(line) is var (again, times))
        {
            // "Back to verse" right above Verse 2 only points there.
            if (again is [.., var (last, _)] && HeadingLine.AreOfOneKind(last, below) && SendsTo().IsMatch(line)
                && HeadingLine.Alone(below, IsChord, beforeBars: false) is not null)
                return true;
            // Under the name of a section without bars it says what that is.
            if (times == 1 && again is [(var alone, 1)] && NewWithoutBars() is { } named && named.Name != alone)
            {
                (named.Like, named.IsLikeAssumed) = (alone, false);
                return true;
            }
            for (var time = 0; time < times && !IsFull; time++)
                foreach (var (name, often) in again) Open(name, often, number);
            return true;
        }
        if (AskedWithRemark(line) is var (asked, plays, remark))
        {
            Open($"{asked.Split(" (")[0]} ({remark})", plays, number, asked);
            return true;
        }
        if (LastChord(line) is not { } chord) return false;
        Open("Ending", 1, number);
        _endsOn = _section;
        ReadOver(new string(' ', chord.Index) + chord.Value, "", number);
        return true;
    }

    private OpenSection? _endsOn;   // the last chord, which a line of its own asks for

    /// <summary>Words that send on to a section, or to the beginning.</summary>
    [GeneratedRegex(Onwards + @"(?:repeat,?|(?:go\s)?back\sto|return\sto|play|(?:ends?|finish)\swith)\s(?:[^\s|\[\]]{1,20}\s){0,8}?(?:verses?|v\.?\s?[0-9]|chorus(?:es)?|refrain|bridge|intro|outro|solo|top|beginning)\b|" + Onwards + @"play(?:\sit)?\s(?-i:[A-H]{3,12})\b|" + Onwards + @"to\s(?:the\s)?" + HeadingLine.KnownNames + @"\s(?:after|on|at|the|when)\b|^[\s(*_-]*(?:D\.\s?[CS]\.?|da\scapo|dal\ssegno)[\s,(]|^\s*(?-i:[A-H]{3,12})\b[^|\[\]]{0,12},\s+(?:ends?|finish)\s(?:on|with)\s|^[\s(_-]*(?:repeat|back\sto|sing|play)\s\*|^[\s(*_-]*etc\.?,?\s[^|\[\]]{0,30}?\b(?:verse|chorus|refrain|bridge)|^[\s(*_-]*(?:instrumental|solo|interlude)\s(?:over|on)\sthe\s|^[\s(*_-]*[0-9]{1,2}\s?(?:x|×|times)\s(?:[0-9]{1,2}[\s-]bars?|through|round)\b",
        LinePatterns.AnyCase)]
    private static partial Regex SendsOn();

    /// <summary>True for the name of a section and a sign of what it is: <c>Outro = Intro riff x 4</c>.</summary>
    private static bool NamesByEqual(string line) =>
        line.IndexOf('=') is > 0 and < LongestOnward and var sign && HeadingLine.IsKnown(line[..sign].Trim());

    /// <summary>Says of a line apart from all chords that reads as if it told how the song goes on, and is not followed, what to
    /// write.</summary>
    private void SayNotFollowed(string line, int number)
    {
        if (IsMostlyChords(line))
            Problem(number, 1,
                "This line has chords and something else, and is kept as words; write its chords alone, what is remarked behind them in "
                    + "round brackets, and how often as x2.");
        if (_sections.Count > 0 && line.Length <= LongestOnward
            && (SendsOn().IsMatch(line) || NamesByEqual(line) || LettersOfForm(line) is not null))
            Problem(number, 1,
                "This line seems to say how the song goes on, and is kept as words. Write the order of the sections in a line of its "
                    + "own, such as form: Verse, Chorus, Verse.");
    }
}
