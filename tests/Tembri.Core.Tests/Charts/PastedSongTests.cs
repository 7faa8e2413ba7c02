using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Chords;

namespace Tembri.Core.Tests.Charts;

/// <summary>Habits of writing songs down, each with each: nothing of a song is lost without a word.</summary>
public sealed class PastedSongTests
{
    private const int Songs = 60;   // in each of these
    public static TheoryData<int> Seeds => [.. Enumerable.Range(0, 10).Select(i => i * Songs)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_song_however_it_is_written_down_has_its_chords_title_and_capo(int from)
    {
        foreach (var song in Enumerable.Range(from, Songs).Select(s => new PastedSong(s)))
        {
            var chart = ChartReader.Read(song.Text).Chart;
            var played = chart.PlayedPlaces().SelectMany(p => chart.Sections[p.Section].Bars[p.Bar].Slots)
                .Select(s => Mask(s.Chord, -chart.RecordCapo)).Where((m, i) => m != 0).ToList();
            var wanted = song.Chords.Select(c => Mask(ChordReader.Read(c).Chord, 0)).ToList();
            Assert.True(wanted.SequenceEqual(played.Where((m, i) => i == 0 || played[i - 1] != m)), song.Text);
            Assert.StartsWith(song.Title, chart.Title, StringComparison.Ordinal);
            Assert.Equal(song.Capo, chart.RecordCapo);
        }
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Bars_however_they_are_written_down_have_their_chords_and_beats(int from)
    {
        foreach (var bars in Enumerable.Range(from, Songs).Select(s => new PastedBars(s)))
        {
            var (chart, problems) = ChartReader.Read(bars.Text);
            var played = chart.PlayedBars().Select(b => string.Join(' ', b.Slots.Select(s =>
                string.Create(CultureInfo.InvariantCulture, $"{s.Symbol}:{s.Beats:0.##}"))));
            Assert.True(bars.Bars.SequenceEqual(played), $"{bars.Text}\n{string.Join(" | ", bars.Bars)}\n{string.Join(" | ", played)}");
            Assert.Empty(problems);
            var moved = ChartReader.Read(ChartTextMover.Move(bars.Text, chart.Key.Transpose(2))).Chart;
            Assert.True(Masks(chart, 2).SequenceEqual(Masks(moved, 0)), bars.Text);
        }
    }

    /// <summary>Moved a whole tone up each chord is; a bar written anew changes that bar and those it stands for, and no
    /// other.</summary>
    [Theory]
    [MemberData(nameof(Seeds))]
    public void It_is_moved_and_changed_where_it_stands(int from)
    {
        foreach (var text in Enumerable.Range(from, Songs).Select(s => new PastedSong(s).Text.ReplaceLineEndings("\n")))
        {
            var chart = ChartReader.Read(text).Chart;
            var moved = ChartReader.Read(ChartTextMover.Move(text, chart.Key.Transpose(2))).Chart;
            Assert.True(Masks(chart, 2).SequenceEqual(Masks(moved, 0)), text);
            var at = new BarAddress(text.Length % chart.Sections.Count, 0);
            if (BarEdits.Write(text, at, "F#m7b5").Text is not { } changed) continue;
            var after = ChartReader.Read(changed).Chart;
            Assert.EndsWith("m7♭5", after.Sections[at.Section].Bars[0].Slots[0].Chord?.Name, StringComparison.Ordinal);
            Assert.Equal((chart.Title, chart.RecordCapo), (after.Title, after.RecordCapo));
            var (was, now) = (Masks(chart, 0).ToList(), Masks(after, 0).ToList());
            Assert.Equal(was.Count, now.Count);
            var other = Mask(after.Sections[at.Section].Bars[0].Slots[0].Chord, 0);
            Assert.True(was.Zip(now).All(p => p.First == p.Second || p.Second == other), $"{text}\n----\n{changed}");
        }
    }

    private static IEnumerable<int> Masks(Chart chart, int up) =>
        chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots).Select(s => Mask(s.Chord, up));

    private static int Mask(Chord? chord, int up)
    {
        up = (up + 12) % 12;
        return ((chord?.PitchClassMask ?? 0) << up | (chord?.PitchClassMask ?? 0) >> (12 - up)) & 0xFFF;
    }
}
