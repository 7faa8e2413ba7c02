using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>What the header lines of a chart text say: <c>key: value</c>, or the same in curly brackets.</summary>
internal sealed partial class ChartHeader
{
    public string Title { get; private set; } = "";
    public Key? Key { get; private set; }
    public double Tempo { get; private set; } = 90;
    public Meter Meter { get; private set; } = Meter.Common;
    public int Capo { get; private set; }
    public int Tuning { get; private set; }
    public int RecordCapo { get; private set; }
    public int Voice { get; private set; }
    public List<Recording> Recordings { get; } = [];
    public PitchRange? Singer { get; private set; }
    public PitchRange? Melody { get; private set; }
    public (string Text, int Line)? Form { get; private set; }
    public List<(string Name, string Value)> Extra { get; } = [];

    [GeneratedRegex(@"^\s*\{?\s*(title|t|key|tempo|bpm|meter|time|capo|tuning|record capo|form|voice|melody|recording|take|artist|note|source)\s*:\s*(.*?)\s*\}?\s*$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex HeaderLine();

    /// <summary>The tempo and the capo as people jot them down.</summary>
    [GeneratedRegex(@"^\s*(capo|tempo|bpm)\s+(?:on\s+|at\s+|=\s*)?(\d{1,3})(?:st|nd|rd|th)?(?:\s*(?:bpm|fret))?\s*$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex JottedLine();

    /// <summary>Takes a meter that stands before the first bar.</summary>
    public void Use(Meter meter) => Meter = meter;

    public static bool IsHeader(string line) => line.Contains(':') && HeaderLine().IsMatch(line) || JottedLine().IsMatch(line);

    /// <summary>Recordings a header line; false when the line is none.</summary>
    /// <param name="line">The line.</param>
    /// <param name="number">Its number, from 1.</param>
    /// <param name="problem">Told line, column and advice when the value cannot be read; the usual value then stays.</param>
    public bool TryTake(string line, int number, Action<int, int, string> problem)
    {
        var match = line.Contains(':') ? HeaderLine().Match(line) : JottedLine().Match(line);
        if (!match.Success) return TryOwn(line);
        var value = match.Groups[2].Value;
        var column = match.Groups[2].Index + 1;
        void Whole(int least, int most, string what, Action<int> take)
        {
            if (int.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var n) && n >= least && n <= most) take(n);
            else problem(number, column, $"'{value}' is not {what}; write a whole number from {least} to {most}.");
        }
        var name = match.Groups[1].Value.ToLowerInvariant();
        switch (name)
        {
            case "title" or "t": Title = value; break;
            case "form": Form = (value, number); break;
            case "key":
                if (Music.Key.TryParse(value, out var key)) Key = key;
                else problem(number, column, $"'{value}' is not a key; write one such as E♭ or C#m.");
                break;
            case "tempo" or "bpm":
                if (double.TryParse(value.Split(' ')[0], NumberStyles.Float, CultureInfo.InvariantCulture, out var tempo) && tempo is >= 20 and <= 320) Tempo = tempo;
                else problem(number, column, $"'{value}' is not a tempo; write beats a minute from 20 to 320.");
                break;
            case "meter" or "time":
                if (Charts.Meter.TryParse(value, out var meter)) Meter = meter;
                else problem(number, column, $"'{value}' is not a meter; write one such as 4/4 or 6/8.");
                break;
            case "capo": Whole(0, 11, "a capo", n => Capo = n); break;
            case "record capo": Whole(0, 11, "a capo", n => RecordCapo = n); break;
            case "tuning" when value.StartsWith("standard", StringComparison.OrdinalIgnoreCase): Tuning = 0; break;
            case "tuning": Whole(-7, 7, "a tuning in semitones", n => Tuning = n); break;
            case "voice" when PitchRange.TryParse(value, out var singer): Singer = singer; break;
            case "voice" when value.Any(char.IsAsciiLetter): problem(number, column, $"'{value}' is not what a singer can reach; write the lowest and the highest note, such as 'A2 to E4', or a number of semitones."); break;
            case "recording" or "take": ReadRecording(value, (n, message) => problem(number, column, $"'{n}' {message}")); break;
            case "melody":
                if (PitchRange.TryParse(value, out var melody)) Melody = melody;
                else problem(number, column, $"'{value}' is not the reach of a tune; write its lowest and its highest note, such as 'C3 to A4'.");
                break;
            case "voice": Whole(-11, 11, "a number of semitones", n => Voice = n); break;
            default: AddExtra(name, value); break;
        }
        return true;
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
                ["tuning", var n] when int.TryParse(n, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var tuning) && tuning is >= -7 and <= 7 => recording with { Tuning = tuning },
                ["tempo", var n] when double.TryParse(n, NumberStyles.Float, CultureInfo.InvariantCulture, out var tempo) && tempo is >= 20 and <= 320 => recording with { Tempo = tempo },
                _ => Doubt(recording, part),
            };
        if (Recordings.Count == ChartLimits.MostRecordings) problem(value, $"is one recording too many; {ChartLimits.MostRecordings} are the most.");
        else if (recording.Name.Length > 0) Recordings.Add(recording);
        else problem(value, "names no recording; write such as 'live, capo 3, tuning -1, tempo 96'.");

        Recording Doubt(Recording known, string part)
        {
            problem(part, "is not said of a recording; write capo 0 to 11, tuning -7 to 7 or tempo 20 to 320.");
            return known;
        }
    }

    /// <summary>A line in curly brackets that says something of the writer's own is kept as it is.</summary>
    private bool TryOwn(string line)
    {
        if (!line.TrimStart().StartsWith('{')) return false;
        if (line.Trim().Trim('{', '}').Split(':', 2) is [var name, var rest]) AddExtra(name.Trim(), rest.Trim());
        return true;
    }

    private void AddExtra(string name, string value)
    {
        if (Extra.Count < ChartLimits.MostExtraLines) Extra.Add((name, value));
    }
}
