using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

public sealed class DegreeNamesTests
{
    private static readonly string[] Kinds = ["", "m", "7", "m7", "maj7", "dim", "dim7", "m7b5", "sus4", "7sus4", "6", "m6", "9", "add9", "+", "13"];
    private static readonly int[] MajorScale = [0, 2, 4, 5, 7, 9, 11], MinorScale = [0, 2, 3, 5, 7, 8, 10];

    private static readonly Gen<Key> Keys = Gen.Select(Gen.Int[0, 11], Gen.Bool, (tonic, minor) =>
        new Key(Note.C, minor).Transpose(tonic));

    private static readonly Gen<ChartNames> Names = Gen.OneOf(Gen.Const(ChartNames.Numbers), Gen.Const(ChartNames.ScaleNumbers),
        Gen.Const(ChartNames.Numerals));

    /// <summary>Whatever a chord is called by its place in a key, it is the same chord when it is read.</summary>
    [Fact]
    public void What_is_written_by_degree_is_read_as_the_same_chord() =>
        Gen.Select(Keys, Names, Gen.Int[0, 11], Gen.Int[0, Kinds.Length - 1], Gen.Int[-1, 11]).Sample((key, names, up, kind, low)
            =>
        {
            var naming = new ChartNaming(names, key);
            var bass = low < 0 ? "" : "/" + key.Spell(key.Tonic.PitchClass + low).ToAscii();
            var chord = Chord.Parse(key.Spell(key.Tonic.PitchClass + up).ToAscii() + Kinds[kind] + bass);
            var written = naming.FromEnglish(chord.Name.Replace('♯', '#').Replace('♭', 'b'));
            Assert.Equal(chord, Chord.Parse(naming.InEnglish(written)));
            Assert.DoesNotMatch("^[A-G]", written);
        });

    /// <summary>A number means the note so many steps up the scale, a sign a semitone more or less, whatever the key.</summary>
    [Fact]
    public void A_number_is_a_step_of_the_scale() =>
        Gen.Select(Keys, Gen.Int[1, 7], Gen.Int[-1, 1]).Sample((key, degree, sign) =>
        {
            var scale = key.IsMinor ? MinorScale : MajorScale;
            // In minor ♭3, ♭6 and ♭7 are the scale's own.
            var moves = sign < 0 && key.IsMinor && degree is (3 or 6 or 7) ? 0 : sign;
            var expected = (key.Tonic.PitchClass + scale[degree - 1] + moves + 12) % 12;
            var written = (sign < 0 ? "b" : sign > 0 ? "#" : "") + degree;
            var read = Chord.Parse(new ChartNaming(ChartNames.Numbers, key).InEnglish(written));
            Assert.Equal((expected, ""), (read.Root.PitchClass, read.Kind));
        });

    /// <summary>The triads of a scale are those that its own notes make.</summary>
    [Fact]
    public void Numbers_of_the_scale_are_its_triads()
    {
        foreach (var key in Enumerable.Range(0, 24).Select(i => new Key(Note.C, i >= 12).Transpose(i % 12)))
        {
            var scale = (key.IsMinor ? MinorScale : MajorScale).Select(s => (key.Tonic.PitchClass + s) % 12).ToList();
            for (var degree = 1; degree <= 7; degree++)
            {
                var tones = new[] { 0, 2, 4 }.Select(third => scale[(degree - 1 + third) % 7]).Order();
                var numeral = new[] { "i", "ii", "iii", "iv", "v", "vi", "vii" }[degree - 1];
                var read = Chord.Parse(new ChartNaming(ChartNames.ScaleNumbers, key).InEnglish($"{degree}"));
                Assert.Equal(tones, read.PitchClasses.Order());
                // The size of a numeral says the same.
                var (minor, diminished) = (read.IsMinor && read.Has(7), read.Has(6) && !read.Has(7));
                if (diminished) continue;
                var said = new ChartNaming(ChartNames.Numerals, key).InEnglish(minor ? numeral : numeral.ToUpperInvariant());
                Assert.Equal(read, Chord.Parse(said));
            }
        }
    }

    [Fact]
    public void A_chart_by_number_moves_by_its_key_alone_and_keeps_its_numbers_when_a_bar_is_written_anew()
    {
        const string text = "key: G\nnames: numbers\n[Verse]\n| 1 | 5/7 | 6m7 | 4 |\n";
        Assert.True(Key.TryParse("Eb", out var to));
        var moved = ChartTextMover.Move(text, to);
        Assert.Equal(text.Replace("key: G", "key: Eb", StringComparison.Ordinal), moved);
        Assert.Equal(["E♭", "B♭/D", "Cm7", "A♭"], ChartReader.Read(moved).Chart.Chords.Select(c => c.Name));
        // Numbers count in the key that sounds, whatever the capo.
        var high = ChartReader.Read("capo: 3\n" + moved).Chart;
        Assert.Equal((3, "E♭", "E♭"), (high.RecordCapo, high.Key.ToString(), high.Chords[0].Name));
        var unsaid = text.Replace("names: numbers\n", "", StringComparison.Ordinal);
        var edited = BarEdits.Write(unsaid, new BarAddress(0, 2), "2m Am").Text!;
        Assert.Contains("| 1 | 5/7 | 2m Am | 4 |", edited, StringComparison.Ordinal);
        Assert.Contains("names: numbers", edited, StringComparison.Ordinal);
        Assert.Equal(["G", "D/F♯", "Am", "C"], ChartReader.Read(edited).Chart.Chords.Select(c => c.Name));
    }
}
