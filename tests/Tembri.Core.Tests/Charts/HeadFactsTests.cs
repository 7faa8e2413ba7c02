using System.Globalization;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

/// <summary>Key, meter and tempo at the head of a song, written in the ways people do: each is read, none becomes a bar or
/// words, and in another key they are still there.</summary>
public sealed class HeadFactsTests
{
    private const string Title = "Gravel Steps";

    // K, M and T are the key, the meter and the tempo; the title stands above, or in the first line where it is named.
    private static readonly string[] Heads =
    [
        "key: K\nmeter: M\ntempo: T", "K, M, T", "K, M, T bpm", "M K T", "K M T", "K M Tbpm", "M, K, T bpm", "(M, K, T bpm)", "(K, M, T)",
        "M - K - Tbpm", "K - M - T bpm", "K · M · T", "K • M • T bpm", "K | M | T bpm", "K; M; T bpm", "[M] [K] [T bpm]", "[K, M, T bpm]",
        "K (M, T bpm)", "K (M) T bpm", "Key K, M, T bpm", "Key K M T bpm", "Key: K  Time: M  Tempo: T", "Key: K | Time: M | Tempo: T",
        "Key: K / Time: M / Tempo: T", "Key: K, Time: M, Tempo: T", "Key: K - Time: M - Tempo: T", "Key=K Time=M Tempo=T",
        "Key = K, Time = M, Tempo = T", "Time M Key K Tempo T", "Time Sig M Key K Tempo T", "Time signature: M. Key: K. Tempo: T.",
        "*Key: K, M, T BPM*", "_Key: K, Time: M, Tempo: T_", "**Key:** K **Time:** M **Tempo:** T", "**Key: K, M, T bpm**",
        "Key ..... K\nTime ..... M\nTempo ..... T", "- Key: K\n- Time: M\n- Tempo: T", "* Key: K\n* M\n* T bpm", "> Key: K, M, T bpm",
        "M time, key of K, T bpm", "in K, M, T bpm", "T bpm, M, K", "T BPM / M / K", "♩=T, M, K", "♩ = T   M   K", "Tempo T, M, key K",
        "M. Key of K. T bpm.", "Standard tuning. M. T bpm. Key of K.", "A slow one in M, key of K, about T bpm.",
        "We play it in M, at T bpm, in the key of K", "{key: K}\n{time: M}\n{tempo: T}",
        "Key\tK\nTime\tM\nTempo\tT", "KEY: K   TIME: M   BPM: T", "key K\ntime M\ntempo T",
        Title + " (K, M, T bpm)", Title + " [K, M, T bpm]", Title + " - K - M - T bpm", Title + " | K | M | T bpm",
        Title + " | Key: K | Time: M | Tempo: T", Title + ", M, K, T bpm", Title + "   M   ♩=T   K", Title + " M Tbpm K",
        "\"" + Title + "\" - K, M, T bpm", "\"" + Title + "\" | K | M | T bpm", "# " + Title + " (K, M, T bpm)",
        Title + " – key of K, M, T bpm", Title + " / K / M / T bpm", Title + ": K, M, T bpm", Title.ToUpperInvariant() + " (K) M T bpm",
    ];

    public static TheoryData<string> All => [.. Heads];

    [Theory]
    [MemberData(nameof(All))]
    public void Facts_at_the_head_are_read_and_kept_in_another_key(string head)
    {
        foreach (var (k, m, t) in new[] { ("G", "3/4", 84), ("Em", "6/8", 112), ("Bb", "2/4", 66), ("F#m", "5/4", 140) })
        {
            _ = Key.TryParse(k, out var key);
            _ = Meter.TryParse(m, out var meter);
            string Say(char c) => c switch { 'K' => k, 'M' => m, _ => t.ToString(CultureInfo.InvariantCulture) };
            // A letter that stands by itself; Key, Time and Tempo do not.
            var said = System.Text.RegularExpressions.Regex.Replace(head, @"(?<![A-Za-z])(?:[KM](?![A-Za-z])|T(?![A-Za-z])|T(?=bpm))",
                x => Say(x.Value[0]));
            var isTitled = head.Contains(Title, StringComparison.OrdinalIgnoreCase);
            var bars = string.Join(" | ", new[] { 0, 5, 7, 0 }.Select(up => key.Transpose(up).Tonic + (key.IsMinor ? "m" : "")));
            var text = $"{(isTitled ? "" : Title + "\n")}{said}\n\n| {bars} |\n";
            Check(text, key);
            var to = key.Transpose(2);
            Check(ChartTextMover.Move(text, to), to);

            void Check(string written, Key inKey)
            {
                var reading = ChartReader.Read(written);
                var chart = reading.Chart;
                Assert.True((chart.Meter, chart.Tempo, chart.Key, chart.KeyIsGiven) == (meter, t, inKey, true)
                        && chart.Title.Equals(Title, StringComparison.OrdinalIgnoreCase)
                        && chart.Sections is [{ Bars.Count: 4 }],
                    $"{written}\n→ {chart.Title}, {chart.Meter}, {chart.Tempo}, {chart.Key} {chart.KeyIsGiven}, {chart.Sections.Count} sections, "
                        + $"{chart.Sections.FirstOrDefault()?.Bars.Count} bars\n{string.Join("\n", reading.Problems)}");
            }
        }
    }
}
