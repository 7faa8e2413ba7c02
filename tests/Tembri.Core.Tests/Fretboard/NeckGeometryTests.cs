using CsCheck;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Tests.Fretboard;

/// <summary>Distances and forces on a neck, worked out here the way a luthier does.</summary>
public sealed class NeckGeometryTests
{
    private static readonly Gen<Guitar> Guitars = Pick.From([.. Guitar.Presets]);

    /// <summary>The outer strings lie three to five millimetres from the edges of the fretboard, and further apart at the
    /// saddle.</summary>
    [Fact]
    public void Strings_leave_an_edge_at_the_nut() =>
        Assert.All(Guitar.Presets, g =>
        {
            Assert.InRange((g.NutWidth - g.StringSpreadAtNut) / 2, 3, 5);
            Assert.InRange(g.StringSpreadAtSaddle - g.StringSpreadAtNut, 10, 20);
        });

    [Fact]
    public void Frets_lie_where_the_rule_of_the_luthiers_puts_them() =>
        Gen.Select(Guitars, Gen.Int[0, 11]).Sample((guitar, capo) =>
        {
            var neck = new NeckGeometry(guitar, capo);
            // Every fret leaves the same share of what sounds behind it: twelve of them halve the string.
            var left = guitar.ScaleLength;
            for (var fret = 0; fret <= neck.HighestFret + capo; fret++)
            {
                Assert.Equal(guitar.ScaleLength - left, neck.WireFromNut(fret), 1e-9);
                var next = left / 1.0594630943592953;
                if (fret - capo is >= 0 and var behind && behind < neck.HighestFret)
                {
                    Assert.Equal(left - next, neck.FretSpace(behind + 1), 1e-9);
                    // A finger lands in the space before the wire, three tenths of it away.
                    Assert.Equal(guitar.ScaleLength - next - 0.3 * (left - next), neck.Landing(behind + 1), 1e-9);
                }
                left = next;
            }
            Assert.Equal(guitar.ScaleLength / 2, neck.WireFromNut(12), 1e-9);
            Assert.Equal(Math.Min(24, guitar.ReachableFrets + 5) - capo, neck.HighestFret);
            Assert.Equal((guitar, capo), (neck.Guitar, neck.Capo));
        }, iter: 60);

    [Fact]
    public void Strings_fan_out_evenly_from_nut_to_saddle() =>
        Gen.Select(Guitars, Gen.Int[0, 11]).Sample((guitar, capo) =>
        {
            var neck = new NeckGeometry(guitar, capo);
            for (var fret = 1; fret <= neck.HighestFret; fret++)
            {
                // Between two straight outer strings the width at a point is what the two ends are worth by their distances.
                var (a, b) = (neck.Landing(fret), guitar.ScaleLength - neck.Landing(fret));
                Assert.Equal((guitar.StringSpreadAtNut * b + guitar.StringSpreadAtSaddle * a) / guitar.ScaleLength / 5,
                    neck.StringSpacing(fret), 9);
            }
        }, iter: 60);

    [Fact]
    public void A_string_is_pressed_with_what_its_two_halves_pull_back() =>
        Gen.Select(Guitars, Gen.Int[0, 11], Gen.Int[0, 5], Gen.Int[1, 12]).Sample((guitar, capo, s, fret) =>
        {
            var neck = new NeckGeometry(guitar, capo);
            if (fret > neck.HighestFret) return;
            // The string runs straight from what holds it (nut or capo) to the saddle; its height over a wire is on that line,
            // or for the capo, on the line from the capo's own fret.
            var (one, twelve) = (neck.WireFromNut(1), neck.WireFromNut(12));
            double OverBareNeck(double x) =>
                guitar.ActionAtFret1 + (guitar.ActionAtFret12 - guitar.ActionAtFret1) * (x - one) / (twelve - one);
            var held = neck.WireFromNut(capo);
            var wire = neck.WireFromNut(capo + fret);
            var height =
                capo == 0 ? OverBareNeck(wire) : OverBareNeck(guitar.ScaleLength) * (wire - held) / (guitar.ScaleLength - held);
            // Pressed down by its height, it makes a shallow triangle; the finger holds the sum of both pulls across.
            var (before, behind) = (neck.Landing(fret) - held, guitar.ScaleLength - neck.Landing(fret));
            var pull = guitar.Tensions[s] * (Math.Sin(Math.Atan(height / before)) + Math.Sin(Math.Atan(height / behind)));
            Assert.Equal(pull, neck.PressForce(s, fret), pull * 2e-3);   // tan for sin: below two in a thousand at these heights
        }, iter: 400);

    [Fact]
    public void At_the_first_fret_the_document_has_these_forces()
    {
        var neck = new NeckGeometry(Guitar.Steel, 0);
        double[] document = [2.12, 2.45, 2.50, 2.47, 1.91, 1.91];
        for (var s = 0; s < 6; s++) Assert.Equal(document[s], neck.PressForce(s, 1), 2);
        // A string that a neck does not have pulls like its highest.
        Assert.Equal(neck.PressForce(5, 3), neck.PressForce(9, 3));
    }

    [Fact]
    public void Tension_goes_with_the_square_of_the_pitch() =>
        Gen.Select(Guitars, Gen.Int[-12, 12], Gen.Int[-3, 3].Array[6]).Sample((guitar, semitones, steps) =>
        {
            var tuned = guitar.Tuned(semitones);
            var frequency = 1.0;
            for (var i = 0; i < Math.Abs(semitones); i++)
                frequency *= semitones > 0 ? 1.0594630943592953 : 1 / 1.0594630943592953;
            Assert.All(tuned.Tensions.Zip(guitar.Tensions), t => Assert.Equal(t.Second * frequency * frequency, t.First, 1e-9));
            Assert.Equal(semitones == 0, tuned.Id == guitar.Id);
            // String by string, and nothing else changes; back again is where it began.
            var other = new Tuning([.. guitar.Strings.Strings.Zip(steps, (pitch, step) => pitch + step)]);
            var strung = guitar.Strung(other);
            Assert.Equal(other, strung.Strings);
            for (var s = 0; s < 6; s++) Assert.Equal(guitar.Tensions[s] * Math.Pow(2, steps[s] / 6.0), strung.Tensions[s], 1e-9);
            Assert.All(strung.Strung(guitar.Strings).Tensions.Zip(guitar.Tensions), t => Assert.Equal(t.Second, t.First, 1e-9));
            Assert.Equal((guitar.ScaleLength, guitar.ActionAtFret12), (strung.ScaleLength, strung.ActionAtFret12));
            Assert.Same(guitar, guitar.Strung(new Tuning([40, 45, 50, 55])));   // four strings do not go on six
        }, iter: 100);

    [Fact]
    public void Frets_and_tunings_that_no_guitar_has_are_refused()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => new NeckGeometry(Guitar.Steel, -1));
        Assert.Throws<ArgumentOutOfRangeException>(() => new NeckGeometry(Guitar.Steel, 12));
        Assert.Throws<ArgumentOutOfRangeException>(() => Guitar.Steel.Tuned(13));
        Assert.Throws<ArgumentOutOfRangeException>(() => Guitar.Steel.Tuned(-13));
        Assert.Same(Guitar.Preset("classical"), Guitar.Preset("Nylon"));
        Assert.All(Guitar.Presets,
            g => Assert.Contains(g.Id, Assert.Throws<KeyNotFoundException>(() => Guitar.Preset("lute")).Message,
                StringComparison.Ordinal));
    }

    [Fact]
    public void A_measured_guitar_differs_from_its_preset_by_what_was_measured()
    {
        Gen.Select(Guitars, Gen.Double[400, 720], Gen.Double[35, 60], Gen.Double[0.8, 6]).Sample((preset, scale, nut, action) =>
        {
            var measures = new GuitarMeasures(preset.Id, scale, nut, action);
            var guitar = measures.ToGuitar();
            Assert.Null(measures.Fault);
            Assert.Equal((scale, nut, action, preset.StringSpreadAtSaddle, preset.ReachableFrets),
                (guitar.ScaleLength, guitar.NutWidth, guitar.ActionAtFret12, guitar.StringSpreadAtSaddle,
                    guitar.ReachableFrets));
            // The strings stand as far from the edges as on the preset, and rise as it does.
            Assert.Equal(preset.NutWidth - preset.StringSpreadAtNut, guitar.NutWidth - guitar.StringSpreadAtNut, 1e-9);
            Assert.Equal(preset.ActionAtFret12 / preset.ActionAtFret1, guitar.ActionAtFret12 / guitar.ActionAtFret1, 1e-9);
            // At the same pitch a string half as long again pulls with its square.
            Assert.All(guitar.Tensions.Zip(preset.Tensions),
                t => Assert.Equal(scale * scale / (preset.ScaleLength * preset.ScaleLength), t.First / t.Second, 1e-9));
            Assert.Equal(measures, GuitarMeasures.FromJson(measures.ToJson()));
        }, iter: 100);
        Assert.All(Guitar.Presets, g => Assert.Same(g, GuitarMeasures.Of(g).ToGuitar()));
        var steel = GuitarMeasures.Of(Guitar.Steel);
        foreach (var (wrong, word) in new[]
        {
            (steel with { Preset = "lute" }, "kinds"), (steel with { ScaleLength = 399.9 }, "scale"),
            (steel with { ScaleLength = 720.1 }, "scale"), (steel with { NutWidth = 34.9 }, "nut"),
            (steel with { NutWidth = 60.1 }, "nut"), (steel with { ActionAtFret12 = 0.79 }, "twelfth"),
            (steel with { ActionAtFret12 = 6.01 }, "twelfth"), (steel with { ScaleLength = double.NaN }, "scale")
        })
        {
            Assert.Contains(word, wrong.Fault, StringComparison.Ordinal);
            Assert.Throws<ArgumentException>(wrong.ToGuitar);
        }
        Assert.All(new[] { null, "", "{", "{\"preset\":\"lute\"}", "[]" }, json => Assert.Null(GuitarMeasures.FromJson(json)));
    }
}
