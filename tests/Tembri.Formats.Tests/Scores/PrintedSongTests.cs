using Tembri.Core.Charts.Reading;

namespace Tembri.Formats.Tests.Scores;

/// <summary>What is printed is read as what was typed.</summary>
public sealed class PrintedSongTests
{
    private const int Songs = 40;   // in each of these
    public static TheoryData<int> Seeds => [.. Enumerable.Range(0, 5).Select(i => i * Songs)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_printed_song_has_the_chords_of_its_text(int from)
    {
        foreach (var seed in Enumerable.Range(from, Songs))
        {
            if (PrintedSong.Text(seed) is not { } text) continue;
            var read = Assert.Single(PdfCharts.Read(new PrintedSong(seed, text).Bytes));
            Assert.True(Facts(text) == Facts(read), $"{seed}\n{Facts(text)}\n{Facts(read)}\n{text}\n----\n{read}");
        }
    }

    /// <summary>Title, capo, chords as they are played and words.</summary>
    private static string Facts(string text)
    {
        var chart = ChartReader.Read(text).Chart;
        var words = string.Concat(chart.PlayedBars().Select(b => b.Lead + string.Concat(b.Slots.Select(s => s.Lyric))))
            .Where(char.IsLetter);
        var chords = string.Join(' ', chart.Played().Select(s => s.Symbol));
        return $"{chart.Title} {chart.RecordCapo} {chords} {string.Concat(words)}";
    }
}
