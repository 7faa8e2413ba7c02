using System.Buffers;
using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <summary>What the header lines of a chart text say: <c>key: value</c>, or the same in curly brackets.</summary>
internal sealed partial class ChartHeader
{
    public string Title { get; set; } = "";
    public Key? Key { get; private set; }

    /// <summary>True where the key is said to be the one that sounds, whatever the shapes above a capo look like.</summary>
    public bool IsSoundingKey { get; private set; }

    public double Tempo => _tempoSaid ?? 90;
    public Meter Meter { get; private set; } = Meter.Common;

    /// <summary>True when the text says the meter; false when 4/4 is taken for want of one.</summary>
    public bool IsMeterSaid { get; private set; }

    /// <summary>Takes a meter that nobody says, as the bars show it; one that is said holds.</summary>
    public void Assume(Meter meter) => Meter = meter;
    public int Capo => _capoSaid ?? 0;
    public int Tuning { get; private set; }
    public Fretboard.Tuning Strings { get; private set; } = Fretboard.Tuning.Standard;
    public int RecordCapo { get; private set; }
    public int Voice { get; private set; }
    public List<Recording> Recordings { get; } = [];
    public PitchRange? Singer { get; private set; }
    public PitchRange? Melody { get; private set; }
    public (string Text, int Line)? Form { get; private set; }

    /// <summary>True once bars were read.</summary>
    public bool IsBehindBars { get; set; }

    /// <summary>A meter that was said behind bars, for those that follow; null when none was.</summary>
    public Meter? LaterMeter { get; set; }
    public List<(string Name, string Value)> Extra { get; } = [];
    private double? _tempoSaid;
    private int? _capoSaid;

    // No two runs that could share a space stand side by side in these: a line of spaces is looked at once, not once for each.
    private const string Is = @"\s*(?:[:=]\s*)?";
    private const string Pace = @"(?<pace>(?:very\s+)?(?:slow(?:ly)?|fast|quick(?:ly)?|medium|moderate(?:ly)?|easy|gentle|gently|lively|steady|brisk)\s+)?";
    private const string TempoOf = @"(?:tempo|bpm|[♩♪]|(?:dotted\s)?(?:quarter|crotchet)(?:\snote)?|q\.?(?=\s*=))" + Is
        + @"(?:(?:=|[~≈]|ca\.?|about|approx\.?|around\s|at\s)\s*)?(?<tempo>[0-9]{2,3}(?:\.[0-9])?)(?:\s?[-–]\s?[0-9]{2,3})?(?:\s*bpm)?|" + Pace + @"tempo\s*\(\s*(?:(?:~|ca\.?|about)\s*)?(?<tempo>[0-9]{2,3})\s*(?:bpm\s*)?\)|(?:(?:~|ca\.?|about\s)\s*)?(?<tempo>[0-9]{2,3})\s*bpm";
    private const string KeyOf = @"(?:we\s+)?play(?:\s+(?:it|this))?\s+in\s+(?<key>[A-H](?:#|b|♯|♭|[\s-](?:flat|sharp))?(?:\s*(?:minor|min|m|major|maj))?)|(?:(?:in\s+)?the\s+)?key(?:\s*(?:of|=|-)\s*|\s+)(?<key>[A-H](?:#|b|♯|♭|[\s-](?:flat|sharp))?(?:\s*(?:minor|min|m|major|maj))?)"
        + @"|(?:in\s+)?(?<key>[A-H](?:#|b|♯|♭|[\s-](?:flat|sharp))?\s+(?:minor|major)|" + InGerman + ")";

    [GeneratedRegex(@"^\s*(?:[\{\[]\s*)?(?:(?<name>" + Names + @")\s*:|(?<name>" + ByDash
            + @")(?:\s+[-–—](?=\s)|\s*=))\s*(?<value>.*)$", LinePatterns.AnyCase)]
    private static partial Regex HeaderLine();

    private static readonly SearchValues<char> Signs = SearchValues.Create(":=-–—");

    /// <summary>A header line with its <c>name</c> and its <c>value</c>; null for any other line.</summary>
    private static Match? Header(string line) =>
        line.AsSpan().ContainsAny(Signs) && HeaderLine().Match(line) is { Success: true } match ? match : null;

    private const string TuningOf = @"(?<tuning>standard|(?:double\s+)?drop\s+d|open\s+[dg]|dadgad)\s+tuning"
        + @"|(?:tun(?:ed|e|ing)\s+(?:to\s+)?)?(?<tuning>(?:(?:a\s+)?(?:half|whole|full|1/2)(?:\s+a)?[\s-]+(?:step|tone)\s+(?:down|up)"
        + @"|down\s+(?:a\s+)?(?:half|whole|full|1/2)(?:\s+a)?[\s-]+(?:step|tone)))";

    /// <summary>Facts as people jot them down: the name of the fact and its value.</summary>
    [GeneratedRegex(@"^\s*(?:[\[{]\s*(?=[ck]apo))?(?:" + NoCapo + "|" + CapoAt + "|" + TempoOf + "|" + KeyOf + "|" + TuningOf
            + @")(?:\s*\((?<remark>[^()]*)\))?\s*\.?\s*(?:[\]}]\s*)?$",
        LinePatterns.AnyCase)]
    private static partial Regex JottedLine();

    [GeneratedRegex(@"^\s*(?:[(\[]\s*)?" + Pace + @"(?:in\s+|(?:time(?:\s+signature)?|metre|beat)" + Is
            + @")?(?<meter>[0-9]{1,2}/[0-9]{1,2})(?:\s+(?:time|feel))?\s*(?:[)\]]\s*)?$", LinePatterns.AnyCase)]
    private static partial Regex MeterLine();

    /// <summary>A number alone, which among facts is the tempo.</summary>
    [GeneratedRegex(@"^\s*(?:(?:~|ca\.?|about)\s*)?(?<tempo>[0-9]{2,3})\s*$")]
    private static partial Regex Number();

    /// <summary>Longer than anything that stands in a symbol.</summary>
    [GeneratedRegex(@"\p{Ll}{4}")]
    private static partial Regex Word();

    private static readonly SearchValues<char> OfBars = SearchValues.Create("|[]{}");

    [GeneratedRegex(@"^\s*(?:\{\s*)?names\s*:\s*(?<value>.*)$", LinePatterns.AnyCase)]
    private static partial Regex NamesLine();

    /// <summary>Where in a line the key stands: from 0, and how long; null in a line that names none.</summary>
    public static (int At, int Length)? KeyIn(string line)
    {
        if (Facts(line) is { } facts) return facts.Select(KeyIn).FirstOrDefault(k => k is not null);
        if (JottedLine().Match(line) is { Success: true } jotted)
            return jotted.Groups["key"] is { Success: true } key ? (key.Index, key.Length) : null;
        if (BareFactsOf(line) is { } bare) return bare.Groups["key"] is { Success: true } alone ? (alone.Index, alone.Length) : null;
        return Header(line) is { } header && NameIn(header) == "key"
            ? (header.Groups["value"].Index, Apart(ValueIn(header)).Value.Length)
            : null;
    }

    /// <summary>Where in a title the key stands that ends it; null in any other.</summary>
    public static (int At, int Length)? KeyInTitle(string line) =>
        KeyOfTitle().Match(line) is { Success: true } title ? (title.Groups["key"].Index, title.Groups["key"].Length) : null;

    /// <summary>A key that ends a title, Waltz in A minor; without its kind it may be any word.</summary>
    [GeneratedRegex(@"^[^|\[\]:]{1,80}?\sin\s(?<key>[A-H][#b♯♭]?\s?(?:minor|major))(?=\s*$|\s*[,;(–—-])")]
    private static partial Regex KeyOfTitle();

    /// <summary>A value to the end of its line, without what closes the line.</summary>
    private static string ValueIn(Match line)
    {
        var value = line.Groups["value"];
        return value.Value[..Math.Max(0, EndOfValue(line.Value) - value.Index)];
    }

    /// <summary>Where the value of a header line ends: before the bracket that closes the line.</summary>
    public static int EndOfValue(string line)
    {
        var text = line.TrimEnd();
        var closes = text.EndsWith('}') || text.EndsWith(']') && text.TrimStart().StartsWith('[');
        return (closes ? text[..^1].TrimEnd() : text).Length;
    }

    /// <summary>The meter of a line that says nothing else.</summary>
    public static Meter? MeterAlone(string line) =>
        MeterLine().Match(line) is { Success: true } match && Music.Meter.TryParse(match.Groups["meter"].Value, out var meter)
            ? meter
            : null;

    /// <summary>By which names a header line says the notes are called; null for any other line.</summary>
    public static ChartNames? NamesIn(string line) =>
        line.Contains(':') && NamesLine().Match(line) is { Success: true } match ? NamesOf(ValueIn(match)) : null;

    private static readonly (string Name, ChartNames Names)[] Namings =
    [
        ("english", ChartNames.English), ("german", ChartNames.German), ("do re mi", ChartNames.Syllables),
        ("numbers", ChartNames.Numbers), ("numbers of the scale", ChartNames.ScaleNumbers), ("numerals", ChartNames.Numerals),
    ];

    /// <summary>How a header line writes names.</summary>
    public static string NameOf(ChartNames names) => Array.Find(Namings, n => n.Names == names).Name;

    private static ChartNames? NamesOf(string value) =>
        value.Split(',').Select(v => Array.Find(Namings, n => n.Name.Equals(v.Trim(), StringComparison.OrdinalIgnoreCase)))
            .FirstOrDefault(n => n.Name is not null) is { Name: not null } known
                ? known.Names
                : null;

    /// <summary>What a header line says where small letters are minor chords, and where they are not.</summary>
    public const string SmallAreMinor = "small letters minor", SmallAreMajor = "small letters major";

    /// <summary>Whether a header line says that small letters are minor chords; null where it says nothing of them.</summary>
    public static bool? SmallLettersIn(string line) =>
        !line.Contains(':') || NamesLine().Match(line) is not { Success: true } match ? null
            : ValueIn(match).Contains(SmallAreMinor, StringComparison.OrdinalIgnoreCase) ? true
            : ValueIn(match).Contains(SmallAreMajor, StringComparison.OrdinalIgnoreCase) ? false
            : null;

    /// <summary>Takes a meter, that of the song or behind bars that of what follows, and how the line says it is
    /// played.</summary>
    public void Use(Meter meter, string line = "")
    {
        if (IsBehindBars) LaterMeter = meter;
        else (Meter, IsMeterSaid) = (meter, true);
        if (MeterLine().Match(line).Groups["pace"].Value.Trim() is { Length: > 0 } pace) AddNote(pace);
    }

    /// <summary>True for the line that says in which order the sections are played.</summary>
    public static bool IsForm(string line) =>
        Header(line) is { } header && NameIn(header) == "form";

    public static bool IsHeader(string line) =>
        Header(line) is not null || JottedLine().IsMatch(line) || MeterLine().IsMatch(line) || Facts(line) is not null
            || InBrackets(line) is not null || BareFactsOf(line) is not null;

    /// <summary>What stands between commas in a line all in brackets, when a fact is among it; null for any other line. A key
    /// alone may be words: "(in A)".</summary>
    private static string[]? InBrackets(string line) =>
        line.AsSpan().Trim() is ['(', .., ')'] && BesideTitle().Split(line.Trim()[1..^1]) is var inside
                && Array.Exists(inside, p => IsFact(p))
            ? inside
            : null;

    /// <summary>Recordings a header line; false when the line is none.</summary>
    /// <param name="line">The line.</param>
    /// <param name="number">Its number, from 1.</param>
    /// <param name="problem">Told line, column and advice when the value cannot be read; the usual value then stays.</param>
    public bool TryTake(string line, int number, Action<int, int, string> problem)
    {
        if (Facts(line) is { } facts)
        {
            foreach (var fact in facts)
                if (MeterAlone(fact) is { } meter) Use(meter, fact);
                else if (Number().Match(fact) is { Success: true } alone)
                    TakeValue("tempo", alone.Groups["tempo"].Value, number, alone.Groups["tempo"].Index + 1, problem);
                else if (PlaysIn().IsMatch(fact) || !TryTake(fact, number, problem)) AddNote(fact, number);
            return true;
        }
        if (JottedLine().Match(line) is { Success: true } jotted) return TakeJotted(jotted, number, problem);
        if (TrySong(line, number, problem)) return true;
        if (InBrackets(line) is { } inside && TakeFacts(inside, number, problem)) return true;
        if (BareFactsOf(line) is { } bare)
        {
            TakeBare(bare, number, problem);
            return true;
        }
        if (Header(line) is not { } match) return TryOwn(line, number, problem);
        var (name, value) = (NameIn(match), match.Groups["value"]);
        IsSoundingKey |= name == "key" && match.Groups["name"].ValueSpan.StartsWith("sounding", StringComparison.OrdinalIgnoreCase);
        TakeValue(name, ValueIn(match), number, value.Index + 1, problem);
        return true;
    }

    private static bool IsFact(ReadOnlySpan<char> fact) =>
        !PlaysIn().IsMatch(fact) && (fact.ContainsAny(Signs) && HeaderLine().IsMatch(fact) || JottedLine().IsMatch(fact)
            || MeterLine().IsMatch(fact));

    private bool TakeJotted(Match jotted, int number, Action<int, int, string> problem)
    {
        if (jotted.Groups["capo"].Success) TakeCapo(0);
        if (jotted.Groups["remark"] is { Success: true } remark) AddNote(remark.Value.Trim());
        foreach (var (name, group) in new[]
        {
            ("capo", jotted.Groups["fret"]), ("tempo", jotted.Groups["tempo"]), ("key", jotted.Groups["key"]),
            ("tuning", jotted.Groups["tuning"])
        })
            if (group.Success) TakeValue(name, group.Value, number, group.Index + 1, problem);
        return true;
    }

    /// <summary>A tuning as it is said: standard, half a step down, or the six strings by name.</summary>
    private static int? TuningInWords(string value)
    {
        var words = value.ToLowerInvariant();
        bool Has(params ReadOnlySpan<string> any)
        {
            foreach (var word in any) if (words.Contains(word, StringComparison.Ordinal)) return true;
            return false;
        }
        if (words.StartsWith("standard", StringComparison.Ordinal) || Has("estándar", "padrão")
            || string.Concat(words.Where(c => !char.IsWhiteSpace(c) && c != '-')) == "eadgbe")
            return 0;
        var down = Has("down", "flat", "tiefer", "abajo", "abaixo", "sotto", "plus bas", "lager") ? -1 : Has("up") ? 1 : 0;
        var step = Has("half", "1/2", "½", "semitone", "halb", "demi", "medio", "mezzo", "meio", "halve") ? 1
            : Has("whole", "full", "ganz") ? 2 : 0;
        return down * step is not 0 and var semitones ? semitones : null;
    }

    /// <summary>Reads such as <c>live, capo 3, tuning -1, tempo 96</c>.</summary>
    private void ReadRecording(string value, Action<string, string> problem)
    {
        var parts = value.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        var recording = new Recording(parts.FirstOrDefault() ?? "", 0, 0, null);
        foreach (var part in parts.Skip(1))
            recording = part.Split(' ', StringSplitOptions.RemoveEmptyEntries) switch
            {
                ["capo", var n] when int.TryParse(n, out var capo) && capo is >= 0 and <= 11 => recording with { Capo = capo },
                ["tuning",
                    var n] when int.TryParse(n, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var tuning)
                        && tuning is >= -7 and <= 7 =>
                    recording with { Tuning = tuning },
                ["tempo",
                    var n] when double.TryParse(n, NumberStyles.Float, CultureInfo.InvariantCulture, out var tempo)
                        && tempo is >= 20 and <= 320 =>
                    recording with { Tempo = tempo },
                _ => Doubt(recording, part),
            };
        if (Recordings.Count == ChartLimits.MostRecordings)
            problem(value, $"is one recording too many; {ChartLimits.MostRecordings} are the most.");
        else if (recording.Name.Length > 0) Recordings.Add(recording);
        else problem(value, "names no recording; write such as 'live, capo 3, tuning -1, tempo 96'.");

        Recording Doubt(Recording known, string part)
        {
            problem(part, "is not said of a recording; write capo 0 to 11, tuning -7 to 7 or tempo 20 to 320.");
            return known;
        }
    }
}
