using CsCheck;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Chords;

public sealed class ChordReaderTests
{
    private static readonly string[] Roots =
        ["C", "C#", "Db", "D", "D#", "Eb", "E", "E#", "F", "F#", "Gb", "G", "G#", "Ab", "A", "Bb", "B"];

    /// <summary>Kind as written, then its degrees. From the definitions of harmony text books; thirds and fifths stacked,
    /// eleventh with its third.</summary>
    public static TheoryData<string, string> Kinds => new()
    {
        { "",
            "1 3 5" },
            {
                "maj", "1 3 5"
            }, { "M", "1 3 5" }, { "m", "1 b3 5" }, { "-", "1 b3 5" }, { "min", "1 b3 5" }, { "mi", "1 b3 5" },
        { "7",
            "1 3 5 b7" },
            {
                "maj7", "1 3 5 7"
            },
            {
                "M7", "1 3 5 7"
            }, { "Δ7", "1 3 5 7" }, { "Δ", "1 3 5 7" }, { "ma7", "1 3 5 7" }, { "Maj7", "1 3 5 7" }, { "MAJ7", "1 3 5 7" },
        { "m7",
            "1 b3 5 b7" },
            {
                "-7", "1 b3 5 b7"
            },
            {
                "min7", "1 b3 5 b7"
            },
            {
                "m7b5", "1 b3 b5 b7"
            },
            {
                "ø", "1 b3 b5 b7"
            }, { "ø7", "1 b3 b5 b7" }, { "-7b5", "1 b3 b5 b7" }, { "m7(b5)", "1 b3 b5 b7" }, { "m7-5", "1 b3 b5 b7" },
        { "°",
            "1 b3 b5" },
            {
                "dim", "1 b3 b5"
            }, { "o", "1 b3 b5" }, { "dim7", "1 b3 b5 bb7" }, { "°7", "1 b3 b5 bb7" }, { "o7", "1 b3 b5 bb7" },
        { "+",
            "1 3 #5" },
            {
                "aug", "1 3 #5"
            },
            {
                "(#5)", "1 3 #5"
            },
            {
                "7#5", "1 3 #5 b7"
            },
            {
                "+7", "1 3 #5 b7"
            },
            {
                "aug7", "1 3 #5 b7"
            }, { "7+", "1 3 #5 b7" }, { "7b5", "1 3 b5 b7" }, { "maj7#5", "1 3 #5 7" }, { "+M7", "1 3 #5 7" },
        { "6",
            "1 3 5 6" },
            {
                "6/9", "1 3 5 6 9"
            }, { "69", "1 3 5 6 9" }, { "6add9", "1 3 5 6 9" }, { "m6", "1 b3 5 6" }, { "m69", "1 b3 5 6 9" },
        { "9",
            "1 3 5 b7 9" },
            {
                "11", "1 3 5 b7 9 11"
            },
            {
                "13", "1 3 5 b7 9 13"
            },
            {
                "maj9", "1 3 5 7 9"
            },
            {
                "maj13", "1 3 5 7 9 13"
            }, { "M9", "1 3 5 7 9" }, { "m9", "1 b3 5 b7 9" }, { "m11", "1 b3 5 b7 9 11" }, { "m13", "1 b3 5 b7 9 13" },
        { "7b9",
            "1 3 5 b7 b9" },
            {
                "7(b9)", "1 3 5 b7 b9"
            },
            {
                "7-9", "1 3 5 b7 b9"
            },
            {
                "7#9", "1 3 5 b7 #9"
            },
            {
                "7+9", "1 3 5 b7 #9"
            },
            {
                "7#11", "1 3 5 b7 #11"
            },
            {
                "7b13", "1 3 5 b7 b13"
            }, { "9#11", "1 3 5 b7 9 #11" }, { "13b9", "1 3 5 b7 b9 13" }, { "maj7#11", "1 3 5 7 #11" },
        { "7b9b13",
            "1 3 5 b7 b9 b13" },
            {
                "7(#9,b13)", "1 3 5 b7 #9 b13"
            }, { "7alt", "1 3 b5 #5 b7 b9 #9" }, { "alt", "1 3 b5 #5 b7 b9 #9" },
        { "sus",
            "1 4 5" },
            {
                "sus4", "1 4 5"
            },
            {
                "SUS4", "1 4 5"
            },
            {
                "sus2", "1 2 5"
            },
            {
                "sus2sus4", "1 2 4 5"
            },
            {
                "7sus4", "1 4 5 b7"
            }, { "7sus", "1 4 5 b7" }, { "9sus4", "1 4 5 b7 9" }, { "13sus4", "1 4 5 b7 9 13" }, { "4", "1 4 5" },
        { "2",
            "1 3 5 9" },
            {
                "add9", "1 3 5 9"
            },
            {
                "(add9)", "1 3 5 9"
            },
            {
                "add2", "1 3 5 9"
            },
            {
                "add11", "1 3 5 11"
            }, { "add4", "1 3 5 11" }, { "madd9", "1 b3 5 9" }, { "m(add9)", "1 b3 5 9" }, { "Madd9", "1 3 5 9" },
        { "mMaj7",
            "1 b3 5 7" },
            {
                "m(maj7)", "1 b3 5 7"
            },
            {
                "mM7", "1 b3 5 7"
            }, { "-Δ7", "1 b3 5 7" }, { "m(maj9)", "1 b3 5 7 9" }, { "minmaj7", "1 b3 5 7" }, { "m/maj7", "1 b3 5 7" },
        { "5", "1 5" }, { "no3", "1 5" }, { "(no3)", "1 5" }, { "no5", "1 3" }, { "7no5", "1 3 b7" }, { "7omit3", "1 5 b7" },
    };

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Every_kind_gives_its_degrees_on_every_root(string kind, string degrees)
    {
        foreach (var root in Roots)
        {
            var reading = ChordReader.Read(root + kind);
            Assert.True(reading.Ok, $"{root + kind}: {reading.Error}");
            var chord = reading.Chord!;
            Assert.Equal(degrees.Split(' ').Order(), chord.Degrees.Select(d => d.ToAscii()).Order());
            Assert.True(Note.TryRead(root, out var note, out _));
            Assert.Equal(note, chord.Root);
            // The canonical name reads back to the same chord.
            var again = Chord.Parse(chord.Name);
            Assert.Equal(chord.Name, again.Name);
            Assert.Equal(chord.Degrees, again.Degrees);
        }
    }

    [Theory]
    [InlineData("C/E", "C", 4)]
    [InlineData("C/Bb", "C", 10)]
    [InlineData("D/F#", "D", 6)]
    [InlineData("Am7/G", "Am7", 7)]
    [InlineData("F#m7b5/C", "F♯m7♭5", 0)]
    [InlineData("C6/9/G", "C6/9", 7)]
    [InlineData("Em/d", "Em", 2)]
    public void A_bass_after_the_slash_is_read(string symbol, string name, int bass)
    {
        var chord = Chord.Parse(symbol);
        Assert.Equal(bass, chord.BassPitchClass);
        Assert.Equal(name, chord.WithoutBass().Name);
    }

    [Theory]
    [InlineData("Hm", 1, "Bm")]
    [InlineData("Cxyz", 2, "C")]
    [InlineData("Am7q", 4, "Am7")]
    [InlineData("", 1, "Am7")]
    [InlineData("C/H", 2, "C")]
    [InlineData("Cm7b", 4, "Cm7")]
    public void What_cannot_be_read_is_an_error_with_its_column_and_advice(string symbol, int column, string advice)
    {
        var reading = ChordReader.Read(symbol);
        Assert.False(reading.Ok);
        Assert.Equal(column, reading.Column);
        Assert.Contains(advice, reading.Error, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("N.C.")]
    [InlineData("NC")]
    [InlineData("n.c.")]
    public void No_chord_is_silence(string symbol)
    {
        var reading = ChordReader.Read(symbol);
        Assert.True(reading.Ok && reading.IsSilence && reading.Chord is null);
    }

    [Fact]
    public void Any_text_is_either_a_chord_or_an_error_inside_it()
    {
        Gen.String[Gen.Char["ABCDEFGHabcdefgmMjisu0123456789#b+-()/°øΔ .~xΩ"], 0, 44].Sample(text =>
        {
            var reading = ChordReader.Read(text);
            return reading.Ok
                || reading.Column >= 1 && reading.Column <= Math.Max(1, text.Length + 1) && reading.Error!.Length > 10;
        }, iter: 20_000);
    }

    [Fact]
    public void Transposing_by_an_octave_changes_nothing_and_there_and_back_is_the_same()
    {
        var names = Pick.From(Kinds.Select(k => k.Data.Item1).ToArray());
        Gen.Select(Pick.From(Roots), names, Gen.Int[0, 11], Gen.Bool).Sample((root, kind, semitones, minor) =>
        {
            var chord = Chord.Parse(root + kind);
            var key = new Key(Note.Of('G'), minor);
            var moved = chord.Transpose(key, key.Transpose(semitones));
            var shifted = chord.PitchClasses.Select(p => (p + semitones) % 12);
            return key.Transpose(12) == key && moved.PitchClasses.ToArray().SequenceEqual(shifted)
                && moved.Transpose(key.Transpose(semitones), key).PitchClasses.ToArray().SequenceEqual(chord.PitchClasses);
        });
    }

    [Theory]
    [InlineData("C", "x32010", "C")]
    [InlineData("C", "x02210", "Am")]
    [InlineData("C", "xx3210", "Fmaj7")]
    [InlineData("G", "x32033", "Cadd9")]
    [InlineData("D", "2x0232", "D/F♯")]
    [InlineData("E", "020100", "E7")]
    [InlineData("Am", "x02010", "Am7")]
    [InlineData("F", "x20101", "Bdim7")]
    [InlineData("D", "xx0202", "D6")]
    public void A_shape_gets_the_name_a_player_would_give_it(string key, string frets, string name)
    {
        Assert.True(Key.TryParse(key, out var inKey));
        var shape = Core.Shapes.Shape.Parse(frets);
        var tuning = Core.Fretboard.Tuning.Standard;
        var names = ChordNamer.Name(shape.PitchClassMask(tuning), shape.BassPitchClass(tuning), inKey);
        Assert.Equal(name, names[0].Name);
    }

    [Fact]
    public void The_bass_decides_between_two_names_of_the_same_notes()
    {
        var c6 = Chord.Parse("C6").PitchClassMask;
        var key = new Key(Note.C, false);
        Assert.Equal("C6", ChordNamer.Name(c6, 0, key)[0].Name);
        Assert.Equal("Am7", ChordNamer.Name(c6, 9, key)[0].Name);
        Assert.Contains("Am7/C", ChordNamer.Name(c6, 0, key).Select(n => n.Name));
    }

    [Theory]
    [InlineData("Eb", 8, "A♭")]
    [InlineData("E", 8, "G♯")]
    [InlineData("F#", 10, "A♯")]
    [InlineData("Am", 8, "G♯")]
    [InlineData("Dm", 10, "B♭")]
    public void A_key_spells_its_own_notes(string key, int pitchClass, string note)
    {
        Assert.True(Key.TryParse(key, out var k));
        Assert.Equal(note, k.Spell(pitchClass).ToString());
    }
}
