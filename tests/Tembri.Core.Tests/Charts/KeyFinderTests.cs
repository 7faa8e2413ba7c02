using Tembri.Core.Charts;
using Tembri.Core.Chords;

namespace Tembri.Core.Tests.Charts;

/// <summary>The key of charts that do not name it.</summary>
public sealed class KeyFinderTests
{
    [Theory]
    [InlineData("G D Em C", "G")]
    [InlineData("D A Bm G", "D")]
    [InlineData("Am Dm E7 Am", "Am")]
    [InlineData("Bb F Gm Eb Bb", "B♭")]
    // A blues has sevenths on all three; its key is where it is at home, wherever it begins or stops.
    [InlineData("A7 A7 A7 A7 D7 D7 A7 A7 E7 D7 A7 E7", "A")]
    [InlineData("E7 A7 E7 B7", "E")]
    [InlineData("C7 F7 C7 G7 F7 C7", "C")]
    [InlineData("D7 A7 E7 D7 A7", "A")]
    // Sevenths that lead from one to the next are no blues.
    [InlineData("G E7 A7 D7 G", "G")]
    [InlineData("C A7 D7 G7 C", "C")]
    [InlineData("C C7 F G7 C", "C")]
    public void It_is_where_the_chords_are_at_home(string chords, string key) =>
        Assert.Equal(key, KeyFinder.Guess([.. chords.Split(' ').Select(c => ChordReader.Read(c).Chord!)]).ToString());

    /// <summary>Chords a fifth higher are in the key a fifth higher, all around.</summary>
    [Theory]
    [InlineData("A7 D7 A7 E7")]
    [InlineData("G Em C D7")]
    [InlineData("Am F G E7 Am")]
    public void Moved_chords_have_the_key_moved_as_far(string chords)
    {
        var read = chords.Split(' ').Select(c => ChordReader.Read(c).Chord!).ToList();
        var tonic = KeyFinder.Guess(read).Tonic.PitchClass;
        for (var fifths = -5; fifths <= 6; fifths++)
            Assert.Equal((tonic + 7 * fifths + 84) % 12,
                KeyFinder.Guess([.. read.Select(c => c.MoveFifths(fifths))]).Tonic.PitchClass);
    }

    /// <summary>A key beside a capo is that of the shapes where they may well be in it, though they are more at home in another,
    /// and could hardly be in the one that lies lower by the capo.</summary>
    [Theory]
    [InlineData("Em", 2, "Em C G D Em C G D D", "F♯m")]
    [InlineData("G", 2, "C G C G G D G D G D", "A")]
    [InlineData("D", 3, "G D Em C", "F")]
    [InlineData("Eb", 3, "C Am F G", "E♭")]
    [InlineData("A", 3, "C/E Am", "A")]
    [InlineData("A", 2, "G D Em C", "A")]
    [InlineData("Cm", 3, "Am F C G", "Cm")]
    public void A_key_beside_a_capo_sounds_or_is_that_of_the_shapes(string key, int capo, string chords, string sounds) =>
        Assert.Equal(sounds,
            Core.Charts.Reading.ChartReader.Read($"Key: {key}\nCapo: {capo}\n| {chords.Replace(" ", " | ")} |\n").Chart.Key.ToString());

    [Theory]
    [InlineData(0, "C F G7 C", "C")]
    [InlineData(0, "Am Dm E7 Am", "Am")]
    [InlineData(0, "Am F C G Am", "Am")]
    [InlineData(-6, "Ebm Abm Bb7 Ebm", "E♭m")]
    [InlineData(6, "F# B C#7 F#", "F♯")]
    [InlineData(-2, "", "B♭")]
    public void A_signature_is_major_or_minor_as_its_chords_are(int fifths, string chords, string key) =>
        Assert.Equal(key, KeyFinder.OfSignature(fifths,
            [.. chords.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(c => ChordReader.Read(c).Chord!)]).ToString());
}
