using System.Globalization;
using Tembri.Core.Strums;

namespace Tembri.Web.Words;

/// <summary>Says what the right hand does.</summary>
internal static class StrumWords
{
    private const int MostSpoken = 10;

    /// <summary>A pattern's name: as it ships, or what it does.</summary>
    public static string Name(StrumPattern pattern)
    {
        if (pattern.IsFree) return "free: keep the hand swinging";
        if (ShippedStrum.For(pattern.Meter)
            .FirstOrDefault(s => s.Steps == pattern.Notation && s.Swing == pattern.Swing) is { } shipped)
            return shipped.Name;
        var steps = pattern.Steps;
        var struck = Enumerable.Range(0, steps.Count).Where(i => steps[i].Sounds).ToList();
        var plain = pattern.Bars == 1 && struck.TrueForAll(i => steps[i].Stroke is Stroke.Down or Stroke.Up);
        if (struck.Count == pattern.Bars && struck.TrueForAll(i => pattern.Level(i) == 0))
            return pattern.IsPicked ? "all strings at once, once a bar" : "one stroke a bar";
        if (plain && struck.TrueForAll(i => pattern.Level(i) <= 1 && steps[i].Stroke == Stroke.Down))
            return struck.Count == pattern.Beats ? "downs on the beat" : $"downs on {Counts(pattern, struck)}";
        if (plain && Ups(pattern, struck) is { } ups) return $"downs, with ups after {ups}";
        return struck.Count <= MostSpoken
            ? (pattern.IsPicked ? "picked: " : "") + Spoken(pattern)
            : $"{(pattern.IsPicked ? "picked" : "strummed")}, {struck.Count} strokes in "
                + $"{(pattern.Bars == 1 ? "a bar" : "two bars")}";
    }

    /// <summary>For downs on every beat with ups between them, the beats the ups come after; null for anything else.</summary>
    private static string? Ups(StrumPattern pattern, List<int> struck)
    {
        var (steps, ups) = (pattern.Steps, struck.FindAll(i => pattern.Steps[i].Stroke == Stroke.Up));
        if (ups.Count == 0 || struck.Count(i => pattern.Level(i) <= 1) != pattern.Beats
            || struck.Count != pattern.Beats + ups.Count)
            return null;
        if (!ups.TrueForAll(i => pattern.Level(i) == 2)
            || struck.Exists(i => pattern.Level(i) <= 1 && steps[i].Stroke != Stroke.Down))
            return null;
        return ups.Count == pattern.Beats ? "every beat" : Counts(pattern, [.. ups.Select(i => i - i % pattern.StepsPerBeat)]);
    }

    private static string Counts(StrumPattern pattern, List<int> steps) => Lists.And(steps.Select(i => pattern.Count[i]));

    /// <summary>Said aloud: <c>down, miss, down-up</c>; strokes of one beat joined.</summary>
    public static string Spoken(StrumPattern pattern) => Spoken(pattern, 0, pattern.Steps.Count);

    /// <summary>Some of its steps said aloud.</summary>
    public static string Spoken(StrumPattern pattern, int from, int to)
    {
        if (pattern.IsFree) return "down-up, down-up, as you like";
        var beats = new List<string>();
        for (var i = from; i < to; i += pattern.StepsPerBeat - i % pattern.StepsPerBeat)
        {
            var said = Enumerable.Range(i, Math.Min(pattern.StepsPerBeat - i % pattern.StepsPerBeat, to - i))
                .Where(k =>
                    pattern.Steps[k].Stroke != Stroke.Rest && (pattern.Steps[k].Stroke != Stroke.Miss || pattern.IsDownward(k)))
                .Select(k => Say(pattern.Steps[k])).ToList();
            beats.Add(said.Count == 0 ? "ring" : string.Join("-", said));
        }
        return string.Join(", ", beats);
    }

    /// <summary>One step in a word.</summary>
    public static string Say(HandStep step)
    {
        var word = step.Stroke switch
        {
            Stroke.Down => "down", Stroke.Up => "up", Stroke.Muted => "damp", Stroke.Miss => "miss", Stroke.Stop => "stop",
            Stroke.Pick => string.Join("+", step.Picks.Select(Say)), _ => "ring",
        };
        return step.Accent ? word.ToUpperInvariant() : word;
    }

    private static string Say(char pick) => pick switch { 'b' => "bass", 'a' => "other bass", _ => $"{pick}" };

    /// <summary>The rungs of the right hand by name.</summary>
    public static string Rung(int number, bool isPicked) => (number, isPicked) switch
    {
        (0, _) => "Free: keep the hand swinging",
        (1, false) => "One stroke a change",
        (2, false) => "Downs on the beat",
        (3, false) => "Downs and ups",
        (4, false) => "Nothing passed",
        (1, true) => "All at once",
        (2, true) => "Thumb, then the rest",
        (3, true) => "In a fixed order",
        (4, true) => "One at a time",
        _ => "As recorded",
    };

    /// <summary>The accents and pushes of the record that a simpler pattern still has, and the strokes between the
    /// beats.</summary>
    public static IReadOnlyList<string> Keeps(StrumPattern record, StrumPattern pattern)
    {
        var (of, other) = (record.Steps, pattern.Steps);
        var count = record.Count;
        var kept = new List<string>();
        for (var i = 0; i < Math.Min(of.Count, other.Count); i++)
        {
            if (of[i].Accent && other[i].Accent) kept.Add($"accent on {At(record, i)}");
            if (StrumFeel.PushedBeat(record, i) is { } beat && other[i].Sounds && !other[beat].Sounds)
                kept.Add($"push before {count[beat]}");
            else if (record.Level(i) >= 2 && of[i].Sounds && other[i].Sounds)
                kept.Add($"{(other[i].Stroke == Stroke.Pick ? "string" : other[i].Stroke == Stroke.Up ? "up" : "stroke")} on "
                    + $"{At(record, i)}");
        }
        return kept;
    }

    /// <summary>What a rung leaves out of the one above it, in a sentence.</summary>
    public static string Reason(StrumPattern record, StrumPattern above, StrumPattern pattern, int rung)
    {
        if (rung == StrumLadder.Top) return "This is what the record plays.";
        if (pattern.Equals(above)) return $"There is nothing between: it plays rung {rung + 1}.";
        if (above.Steps.Count != pattern.Steps.Count) return "The bars are alike, so one is learnt.";
        var (a, q) = (above.Steps, pattern.Steps);
        List<int> Where(Func<int, bool> test) => [.. Enumerable.Range(0, q.Count).Where(test)];
        var parts = new List<string>();
        void Add(string verb, List<int> steps)
        {
            if (steps.Count > 0) parts.Add($"{verb} {Lists.And(steps.Select(i => At(record, i)))}");
        }
        Add("leaves out", Where(i => a[i].Sounds && !q[i].Sounds));
        Add("strikes", Where(i => !a[i].Sounds && q[i].Sounds && a[i].Stroke == Stroke.Miss));
        Add("moves to", Where(i => !a[i].Sounds && q[i].Sounds && a[i].Stroke != Stroke.Miss));
        Add("plays down", Where(i => a[i].Stroke == Stroke.Up && q[i].Stroke is Stroke.Down));
        Add("lets sound", Where(i => a[i].Stroke == Stroke.Muted && (q[i].Stroke is Stroke.Down or Stroke.Up)));
        Add("takes fewer strings on",
            Where(i => a[i].Stroke == Stroke.Pick && q[i].Stroke == Stroke.Pick && q[i].Picks.Length < a[i].Picks.Length));
        Add("takes all strings on",
            Where(i => a[i].Stroke == Stroke.Pick && q[i].Stroke == Stroke.Pick && q[i].Picks.Length > a[i].Picks.Length));
        Add("does not lean on", Where(i => a[i].Accent && q[i].Sounds && !q[i].Accent));
        Add("does not stop the strings on", Where(i => a[i].Stroke == Stroke.Stop && q[i].Stroke != Stroke.Stop));
        Add("takes other strings on",
            Where(i => a[i].Stroke == Stroke.Pick && q[i].Stroke == Stroke.Pick && q[i].Picks.Length == a[i].Picks.Length
                && q[i].Picks != a[i].Picks));
        if (parts.Count == 0)
            parts.Add(a.Any(s => s.Stroke == Stroke.Miss) ? "the hand rests where it passed" : "plays it more simply");
        var kept = Keeps(record, pattern)
            .Where(k => !k.StartsWith("up", StringComparison.Ordinal) && !k.StartsWith("stroke", StringComparison.Ordinal)
                && !k.StartsWith("string", StringComparison.Ordinal)).ToList();
        var sentence = string.Join("; ", parts);
        return $"{char.ToUpperInvariant(sentence[0])}{sentence[1..]}.{(kept.Count > 0 ? $" Keeps the {Lists.And(kept)}." : "")}";
    }

    /// <summary>A step by what is counted on it: <c>3</c>, <c>2 &amp;</c>; in the second bar it says so.</summary>
    public static string At(StrumPattern pattern, int step)
    {
        var count = pattern.Count[step];
        var beat = pattern.Count[step - step % pattern.StepsPerBeat];
        var bar = pattern.Bars == 2 && step >= pattern.Steps.Count / 2 ? " of bar 2" : "";
        return (char.IsAsciiDigit(count[0]) ? count : $"{beat} {count}") + bar;
    }

    /// <summary>Where a change falls, and what letting strokes go buys.</summary>
    public static string Say(ChangeTime time, double tempo)
    {
        string Seconds(double beats) => (60 / tempo * beats).ToString("0.00", CultureInfo.InvariantCulture);
        var falls = time.FallsOn switch
        {
            Stroke.Rest => time.Count.Length > 0
                ? $"it falls on {time.Count}, where the pattern strikes nothing: a down-stroke is added"
                : "it falls between the strokes: a down-stroke is added",
            Stroke.Pick => $"it falls on the string picked at {time.Count}",
            _ => $"it falls on the {Say(new HandStep(time.FallsOn))} at {time.Count}",
        };
        return time.LetGo.Count == 0 || time.Bought < 0.01 ? $"{falls}; there are {Seconds(time.Free)} s"
            : $"{falls}; with {Lists.And(time.LetGo.Select(c => $"“{c}”"))} let go before it there are {Seconds(time.Free)} s, "
                + $"which buys {Seconds(time.Bought)}";
    }

    /// <summary>A technique with its amount.</summary>
    public static string Say(StrumPartEffort part)
    {
        string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
        string Times(string one, string many) => $"{Number(part.Amount)} {(part.Amount == 1 ? one : many)} a bar";
        return part.Part switch
        {
            StrumPart.Pace => $"{Number(part.Amount)} movements a second",
            StrumPart.Quick => "on a quick grid",
            StrumPart.Offbeats => Times("stroke between the beats", "strokes between the beats"),
            StrumPart.Ups => Times("up-stroke", "up-strokes"),
            StrumPart.Misses => Times("stroke passed", "strokes passed"),
            StrumPart.UpRuns => Times("up after an up", "ups after an up"),
            StrumPart.Accents => Times("stroke leaned on", "strokes leaned on"),
            StrumPart.Mutes => Times("damped or stopped", "damped or stopped"),
            StrumPart.Aim => Times("pick of named strings", "picks of named strings"),
            StrumPart.Jumps => $"the thumb goes {Number(part.Amount)} {(part.Amount == 1 ? "string" : "strings")} a bar",
            _ => $"{Number(part.Amount)} {(part.Amount == 1 ? "stroke" : "strokes")} to keep in mind",
        };
    }
}
