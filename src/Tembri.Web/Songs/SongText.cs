using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Data.Songs;

namespace Tembri.Web.Songs;

/// <summary>Takes a chart text into a song row.</summary>
internal static class SongText
{
    public const string Untitled = "Untitled song";

    /// <summary>The text as it is stored: characters that neither the database nor XML can hold are dropped.</summary>
    public static string Storable(string text) => PlainText.Clean(text);

    /// <summary>A song that is still empty.</summary>
    public static Song New() => new() { Title = "", ChartText = "", ChartStamp = "", Key = "", Meter = "" };

    /// <summary>Reads the text and sets what the desk shows of it. The text itself is kept as it is.</summary>
    public static ChartReading Apply(Song song, string text, DateTimeOffset now)
    {
        text = Storable(text);
        var reading = ChartReader.Read(text);
        var chart = reading.Chart;
        (song.ChartText, song.ChartStamp) = (text, ArrangementStamp.DigestOf(text));
        song.Title = chart.Title.Length == 0 ? Untitled : PlainText.Cut(chart.Title, ChartLimits.LongestName);
        song.Key = chart.Key.ToString();
        song.Tempo = chart.Tempo;
        song.Meter = chart.Meter.ToString();
        song.ChordCount = chart.Chords.Count;
        song.ProblemCount = reading.Problems.Count;
        song.ChangedAt = now;
        song.Tags = [.. chart.Tags.Select(t => PlainText.Cut(t, Song.LongestTag)).Distinct().Take(Song.MostTags)];
        song.SearchText = SongSearch.TextOf(song, chart);
        return reading;
    }
}
