using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>What the values of header lines say: capos, keys, numbers, and what is remarked behind them.</content>
internal sealed partial class ChartHeader
{
    /// <summary>A capo as it is written behind its name: a number, in Roman figures too, or that there is none.</summary>
    [GeneratedRegex("^(?:(?<none>" + None + @"(?:\s+" + CapoName + ")?|off)|" + CapoFret + ")$", LinePatterns.AnyCase)]
    private static partial Regex CapoValue();

    /// <summary>The first number of a tempo, <c>ca. 96</c>, <c>♩ = 96</c>, <c>100–104</c>.</summary>
    [GeneratedRegex(@"(?<![0-9.,/-])[0-9]{2,3}(?:\.[0-9]+)?(?![0-9/])")]
    private static partial Regex BeatsAMinute();

    private static readonly string[] Roman = ["0", "i", "ii", "iii", "iv", "v", "vi", "vii", "viii", "ix", "x", "xi"];

    /// <summary>The fret of a capo; null when it is none, or beyond the neck.</summary>
    private static int? CapoOf(string value)
    {
        if (CapoValue().Match(value) is not { Success: true } match) return null;
        if (match.Groups["none"].Success) return 0;
        var fret = match.Groups["fret"].Value;
        var at = int.TryParse(fret, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
            ? n
            : Array.FindIndex(Roman, r => r.Equals(fret, StringComparison.OrdinalIgnoreCase));
        return at is >= 0 and <= 11 ? at : null;
    }

    /// <summary>A value and what is remarked behind it in brackets; empty when nothing is.</summary>
    private static (string Value, string Remark) Apart(string value) =>
        value.EndsWith(')') && value.LastIndexOf('(') is > 0 and var at
            ? (value[..at].TrimEnd(), value[(at + 1)..^1].Trim())
            : (value, "");

    /// <summary>A fact without the dash or the dot that parts it from the next one; behind a colon it is the value.</summary>
    private static string WithoutSign(string fact)
    {
        var kept = fact.TrimEnd(' ', '-', '–', '—', '•', '·', '/');
        return kept.Length < fact.Length && fact[kept.Length] == ' ' && kept is [.., var last] && char.IsLetterOrDigit(last)
            ? kept
            : fact;
    }

    private void TakeValue(string name, string value, int number, int column, Action<int, int, string> problem)
    {
        // What stands in brackets behind a number or a key is kept as a note.
        if (name is "key" or "tempo" or "bpm" or "meter" or "time" or "capo" or "record capo" or "tuning"
            && Apart(value) is (var alone, { Length: > 0 } remark))
        {
            // "moderate (92)": what stands in brackets is the tempo itself.
            if (name is not ("tempo" or "bpm") || BeatsAMinute().IsMatch(alone) || !BeatsAMinute().IsMatch(remark))
                value = alone;
            // "Eb (capo 3, play in C)": the place of the capo stands behind the key.
            if (name != "key" || value != alone || !TakeFacts(BesideTitle().Split(remark), number, problem))
                AddNote(value == alone ? remark : alone);
        }
        void Whole(int least, int most, string what, Action<int> take)
        {
            if (int.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var n) && n >= least
                && n <= most)
                take(n);
            else problem(number, column, $"'{value}' is not {what}; write a whole number from {least} to {most}.");
        }
        // Behind bars the song's own key, tempo and capo stay as they were said.
        bool Stays<T>(T now, T? said, string what) where T : struct
        {
            if (!IsBehindBars || said is not { } first || first.Equals(now)) return false;
            problem(number, column,
                $"A chart has one {what}, and {first} was said above the bars, which holds for what follows as well; this one is left out.");
            return true;
        }
        switch (name)
        {
            case "title" or "t": Title = value; break;
            case "form": Form = (value, number); break;
            case "key":
                // Of a key and what it changes to the first is that of the song.
                if (Music.Key.TryParse(InEnglish(value), out var key)
                    || value.Split(['/', '>', '→', ','], 2) is [{ Length: > 0 } first, _]
                        && Music.Key.TryParse(InEnglish(first.Trim(' ', '-')), out key))
                    Key = Stays(key, Key, "key") ? Key : key;
                else problem(number, column, $"'{value}' is not a key; write one such as E♭ or C#m.");
                break;
            // In Italian a tempo is a meter.
            case "tempo" when Music.Meter.TryParse(value, out var inItalian): Use(inItalian); break;
            case "tempo" or "bpm":
                if (BeatsAMinute().Match(value) is { Success: true } said
                    && double.Parse(said.ValueSpan, CultureInfo.InvariantCulture) is >= 20 and <= 320 and var tempo)
                    _tempoSaid = Stays(tempo, _tempoSaid, "tempo") ? _tempoSaid : tempo;
                else problem(number, column, $"'{value}' is not a tempo; write beats a minute from 20 to 320.");
                break;
            case "meter" or "time":
                if (Music.Meter.TryParse(value, out var meter)) Use(meter);
                else if (MeterByName(value) is { } called) Use(called);
                else problem(number, column, $"'{value}' is not a meter; write one such as 4/4 or 6/8.");
                break;
            case "capo" when CapoOf(value) is { } fret:
                if (!Stays(fret, _capoSaid, "capo")) TakeCapo(fret);
                break;
            case "record capo" when CapoOf(value) is { } fret: RecordCapo = fret; break;
            case "capo" or "record capo": Whole(0, 11, "a capo", _ => { }); break;
            case "names":
                if (NamesOf(value) is null && value.Trim() is not (SmallAreMinor or SmallAreMajor))
                    problem(number, column, $"'{value}' is no way of naming notes; write english, german or do re mi.");
                break;
            case "tuning" when TuningInWords(value) is { } semitones: Tuning = semitones; break;
            case "tuning" when Fretboard.Tuning.TryParse(value, out var strings): (Strings, Tuning) = strings.Apart(); break;
            case "tuning":
                if (value.Any(char.IsLetter))
                    problem(number, column,
                        $"'{value}' is not a tuning; write {string.Join(", ", Fretboard.Tuning.Known.Select(k => k.Name))}, the "
                            + "six strings from the lowest such as D A D G B E, or -2 for two semitones down.");
                else Whole(-7, 7, "a tuning in semitones", n => Tuning = n);
                break;
            case "voice" when PitchRange.TryParse(value, out var singer): Singer = singer; break;
            case "voice" when value.Any(char.IsAsciiLetter):
                problem(number, column,
                    $"'{value}' is not what a singer can reach; write the lowest and the highest note, such as 'A2 to E4', or a "
                        + "number of semitones.");
                break;
            case "recording" or "take": ReadRecording(value, (n, message) => problem(number, column, $"'{n}' {message}")); break;
            case "melody":
                if (PitchRange.TryParse(value, out var melody)) Melody = melody;
                else
                    problem(number, column,
                        $"'{value}' is not the reach of a tune; write its lowest and its highest note, such as 'C3 to A4'.");
                break;
            case "voice": Whole(-11, 11, "a number of semitones", n => Voice = n); break;
            default: AddExtra(name, value); break;
        }
    }

    /// <summary>A capo among words: <c>Play in G with a capo on the 3rd fret</c>.</summary>
    [GeneratedRegex(@"(?<!(?:no|without)\s(?:a\s)?)\b" + CapoName + @"\s*(?:is\s+)?" + CapoPlace + "(?<fret>[0-9]{1,2})" + Counted + @"(?!\w)",
        LinePatterns.AnyCase)]
    private static partial Regex CapoAmongWords();

    /// <summary>True for words that say where a capo is.</summary>
    public static bool SaysCapo(string words) =>
        CapoIn(words) >= 0 && CapoAmongWords().IsMatch(words);

    /// <summary>Where the name of a capo begins in a line, from 0; -1 where none does.</summary>
    public static int CapoIn(string words) => CapoNamed().Match(words) is { Success: true } named ? named.Index : -1;

    [GeneratedRegex(CapoName, LinePatterns.AnyCase)]
    private static partial Regex CapoNamed();

    /// <summary>Keeps words of the whole song. Where they say one capo, and no line of its own does, it is taken.</summary>
    public void AddNote(string words)
    {
        var isBy = words.StartsWith("by ", StringComparison.OrdinalIgnoreCase);
        AddExtra(isBy ? "artist" : "note", isBy ? words[3..].Trim() : words);
        if (!isBy) TryTakeCapoAmongWords(words);
    }

    /// <summary>Takes the capo that words say, where no line of its own does; false where they say none, or more than
    /// one.</summary>
    public bool TryTakeCapoAmongWords(string words)
    {
        if (_capoSaid is not null || !SaysCapo(words) || CapoAmongWords().Matches(words) is not [var only]
            || CapoOf(only.Groups["fret"].Value) is not { } fret)
            return false;
        (_capoSaid, CapoIsAmongWords) = (fret, true);
        return true;
    }

    /// <summary>True when nothing but words among others say where the capo is.</summary>
    public bool CapoIsAmongWords { get; private set; }

    private void TakeCapo(int fret) => (_capoSaid, CapoIsAmongWords) = (fret, false);

    private void AddExtra(string name, string value)
    {
        if (Extra.Count < ChartLimits.MostExtraLines) Extra.Add((name, value));
    }
}
