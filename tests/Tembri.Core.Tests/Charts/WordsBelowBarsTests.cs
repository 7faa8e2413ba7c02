using System.Text;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

/// <summary>Words in a line below bars: each is sung with the chord it begins under.</summary>
public sealed class WordsBelowBarsTests
{
    private static readonly string[] Pool = ["C", "G", "Am", "F", "Dm7", "Em", "D7/F#", "Bb"];
    private static readonly string[] Words = ["harbour", "lights", "on", "the", "hill,", "oh", "window", "seven", "stones", "to", "carry"];

    /// <summary>Rows of four bars, each chord wide enough for the words that are set under it.</summary>
    private static (string Text, List<(string Chord, string Words)> Sung) Song(int seed)
    {
        var chance = new Random(seed);
        var (text, sung) = (new StringBuilder("[Verse]\n"), new List<(string, string)>());
        for (var row = 0; row < 3; row++)
        {
            var (bars, below) = (new StringBuilder(chance.Next(2) == 0 ? "|" : "| "), new StringBuilder());
            for (var bar = 0; bar < 4; bar++)
            {
                for (var left = 1 + chance.Next(2); left > 0; left--)
                {
                    var words = string.Join(' ', new string[chance.Next(4)].Select(_ => Words[chance.Next(Words.Length)]));
                    var chord = Pool[chance.Next(Pool.Length)];
                    below.Append(new string(' ', bars.Length - below.Length)).Append(words);
                    bars.Append(chord.PadRight(Math.Max(chord.Length, words.Length) + 1 + chance.Next(4)));
                    sung.Add((chord, words));
                }
                bars.Append("| ");
            }
            text.Append(bars.ToString().TrimEnd()).Append('\n');
            if (below.ToString().Trim().Length > 0) text.Append(below.ToString().TrimEnd()).Append('\n');
            if (chance.Next(3) == 0) text.Append('\n');
        }
        return (text.ToString(), sung);
    }

    private static List<(string, string)> SungIn(Chart chart) =>
        [.. chart.Sections.Single().Bars.SelectMany(b => b.Slots).Select(s => (s.Symbol, s.Lyric.Trim()))];

    [Fact]
    public void A_word_is_sung_with_the_chord_it_begins_under()
    {
        for (var seed = 0; seed < 300; seed++)
        {
            var (text, sung) = Song(seed);
            Assert.True(sung.SequenceEqual(SungIn(ChartReader.Read(text).Chart)), text);
        }
    }

    /// <summary>A longer or shorter chord in place of another leaves every word with its chord, and so does another
    /// key.</summary>
    [Fact]
    public void A_word_stays_with_its_chord_when_chords_are_written_anew()
    {
        for (var seed = 0; seed < 120; seed++)
        {
            var (text, sung) = Song(seed);
            var bars = ChartReader.Read(text).Chart.Sections[0].Bars;
            var bar = seed % bars.Count;
            var at = bars.Take(bar).Sum(b => b.Slots.Count);
            string[] other = [.. bars[bar].Slots.Select((_, i) => Pool[(seed + 3 * i) % Pool.Length])];
            var written = BarEdits.Write(text, new(0, bar), string.Join(' ', other)).Text!;
            var wanted = sung.Select((s, i) => i >= at && i < at + other.Length ? (other[i - at], s.Words) : s).ToList();
            Assert.True(wanted.SequenceEqual(SungIn(ChartReader.Read(written).Chart)), $"{text}\nbar {bar + 1}\n{written}");
            var moved = ChartReader.Read(ChartTextMover.Move(text, new Key(new Note(seed % 11 - 5), false))).Chart;
            Assert.True(sung.Select(s => s.Words).SequenceEqual(SungIn(moved).Select(s => s.Item2)), text);
        }
    }

    /// <summary>What is far longer than its bars was not set below them sign by sign: every bar has some of it, in
    /// order.</summary>
    [Theory]
    [InlineData("| G | D | Em | C |", "Way down, way down, all the way down to the long low line of the sea")]
    [InlineData("|G|D|Em|C|", "One two three four five six seven eight nine ten")]
    public void Words_much_longer_than_their_bars_are_spread_over_them(string row, string words)
    {
        var slots = ChartReader.Read($"[A]\n{row}\n{words}").Chart.Sections[0].Bars.SelectMany(b => b.Slots).ToList();
        Assert.All(slots, s => Assert.InRange(s.Lyric.Length, words.Length / 8, words.Length / 2));
        Assert.Equal(words, string.Join(' ', slots.Select(s => s.Lyric)));
    }

    /// <summary>Where the first line of bars has its words above, all have.</summary>
    [Fact]
    public void Words_above_bars_are_sung_before_them()
    {
        var bars = ChartReader.Read("[Verse]\nWalk with me\n| G | D |\nAll the way\n| C | D |\n").Chart.Sections[0].Bars;
        Assert.Equal(["Walk with me", "", "All the way", ""], bars.Select(b => b.Lead));
        Assert.All(bars.SelectMany(b => b.Slots), s => Assert.Empty(s.Lyric));
    }

    /// <summary>Names of other lengths take from the dashes behind them, which say how long each chord lasts.</summary>
    [Fact]
    public void Dashes_behind_chords_stay_as_wide_in_every_key()
    {
        const string text = "Am------F-------C-------G-------\nDm------G-------C-------E7------";
        for (var fifths = -6; fifths <= 6; fifths++)
        {
            var moved = ChartReader.Read(ChartTextMover.Move(text, new Key(new Note(fifths + 3), true))).Chart;
            Assert.All(moved.Sections.Single().Bars, b => Assert.Equal(4, Assert.Single(b.Slots).Beats));
            Assert.Equal(8, moved.Sections[0].Bars.Count);
        }
    }

    /// <summary>Chords written close together stand above no syllable: no word is parted, and each chord has its
    /// share.</summary>
    [Theory]
    [InlineData("Am F C G", "Tell me where you've been tonight", "Tell me where|you've|been|tonight")]
    [InlineData("F - G - C", "Oh oh oh, never again oh", "Oh oh oh,|never again|oh")]
    [InlineData("C, D, G", "Halfway, halfway", "Halfway,|halfway|")]
    [InlineData("C G Am F", "Hey you two too long to go on", "Hey you|two too|long to|go on")]
    // Above the beginnings of words they stand where they stand, and so do those with space between them.
    [InlineData("C   G  Am", "One two three four five six seven", "One|two|three four five six seven")]
    [InlineData("C      G", "Over the ridge and down to the sea", "Over th|e ridge and down to the sea")]
    public void Words_below_chords_close_together_are_not_parted(string row, string words, string sung)
    {
        var slots = ChartReader.Read($"[Verse]\n{row}\n{words}").Chart.Sections[0].Bars.Select(b => b.Slots.Single()).ToList();
        Assert.Equal(sung, string.Join('|', slots.Select(s => s.Lyric.Trim())));
    }

    /// <summary>Where there is no space for a longer name, the words behind it go along, each with its chord: in place of G by
    /// hand, and in another key.</summary>
    [Fact]
    public void A_longer_chord_takes_the_words_behind_it_along()
    {
        const string text = "[Verse]\nC G          Am\nI went to the sea alone\n";
        Assert.Equal("[Verse]\nC Gmaj7      Am\nI went to the sea alone\n", BarEdits.Write(text, new(0, 1), "Gmaj7").Text);
        Assert.Equal("[Verse]\nCm7b5 G          Am\nI     went to the sea alone\n", BarEdits.Write(text, new(0, 0), "Cm7b5").Text);
        // B♭ above "I" is a sign longer than C, and stands right before F.
        Assert.Equal("key: Bb\n[Verse]\nBb F          Gm\nI  went to the sea alone\n",
            ChartTextMover.Move("key: C\n" + text, new Key(Note.Of('B', -1), false)));
    }

    [Fact]
    public void A_longer_chord_close_to_others_parts_no_word_below()
    {
        const string text = "[Verse]\nAm F C G\nTell me where you've been tonight";
        Assert.Equal("[Verse]\nAm F#m7b5 C G\nTell me where you've been tonight", BarEdits.Write(text, new(0, 1), "F#m7b5").Text);
    }
}
