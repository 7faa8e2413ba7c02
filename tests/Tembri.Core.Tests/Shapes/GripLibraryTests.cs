using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Shapes;

public sealed class GripLibraryTests
{
    [Fact]
    public void There_are_at_least_120_grips_and_each_plays_its_chord()
    {
        Assert.True(GripLibrary.All.Count >= 120);
        foreach (var grip in GripLibrary.All)
        {
            var foreign = grip.Shape.PitchClassMask(Tuning.Standard) & ~grip.Chord.PitchClassMask;
            Assert.True(foreign == 0, $"{grip.Chord} {grip.Shape} sounds a note that is not in the chord");
            Assert.True(Closeness.Of(grip.Shape, grip.Chord, Tuning.Standard).Missing.All(
                d => d.Role is DegreeRole.Fifth or DegreeRole.Colour or DegreeRole.Root),
                $"{grip.Chord} {grip.Shape} lacks a telling note");
        }
    }

    [Fact]
    public void Every_grip_can_be_fingered_as_written()
    {
        var finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
        foreach (var grip in GripLibrary.All)
            Assert.True(finder.Weigh(grip.Shape, grip.Fingers) is not null, $"{grip.Chord} {grip.Shape}");
    }

    [Theory]
    [InlineData("C", "x32010", "x35553", "8-10-10-9-8-8")]
    [InlineData("F#m", "244222", "x-9-11-11-10-9")]
    [InlineData("Eb", "x68886", "xx1343")]
    [InlineData("G/B", "x20003")]
    public void Movable_forms_are_found_where_the_chord_is(string symbol, params string[] shapes)
    {
        var found = new ShapeFinder(Known.Results, Tuning.Standard).Taught(Chord.Parse(symbol)).Select(f => f.Shape).ToHashSet();
        foreach (var shape in shapes) Assert.True(found.Contains(Shape.Parse(shape)), $"{symbol}: {shape} is missing");
    }

    /// <summary>Every way to take strings off the ends of a grip and to lift one finger is tried; what the rules let through is
    /// what is taught.</summary>
    [Fact]
    public void Grips_are_reduced_as_the_rules_let_through_and_no_other_way()
    {
        foreach (var chord in GripLibrary.All.Select(g => g.Chord).DistinctBy(c => c.Name))
            ReducedAsTheRulesLetThrough(chord, Tuning.Standard);
    }

    private static void ReducedAsTheRulesLetThrough(Chord chord, Tuning tuning)
    {
        var taught = new ShapeFinder(Known.Results, tuning).Taught(chord);
        var grips = taught.Where(f => f.Origin.Source == ShapeSource.Library).ToList();
        var let = new HashSet<string>();
        foreach (var grip in grips.Select(g => g.Shape))
            for (var first = 0; first < 6; first++)
                for (var last = first; last < 6; last++)
                    for (var lifted = -1; lifted < 6; lifted++)
                    {
                        int Fret(int s) => s < first || s > last ? -1 : s == lifted ? 0 : grip[s];
                        var frets = Enumerable.Range(0, 6).Select(Fret).ToArray();
                        if (Lets(grip, first, last, lifted, frets)) let.Add(new Shape(frets).ToString());
                    }
        let.ExceptWith(grips.Select(g => g.Shape.ToString()));
        Assert.Equal(let.Order(StringComparer.Ordinal),
            taught.Where(f => f.Origin.Source == ShapeSource.Reduction).Select(f => f.Shape.ToString())
                .Order(StringComparer.Ordinal));

        bool Lets(Shape grip, int first, int last, int lifted, int[] frets)
        {
            var (low, high) = (first - grip.BassString, grip.TrebleString - last);
            // The strings at both ends sound, and three in all; at most three low ones and two high ones are left out.
            if (grip[first] < 0 || grip[last] < 0 || low is < 0 or > 3 || high is < 0 or > 2) return false;
            if (lifted < 0) return frets.Count(f => f >= 0) >= 3;
            // A finger is lifted where its open string belongs to the chord and the others stand in the first frets.
            if (lifted < first || lifted > last || grip[lifted] <= 0 || high > 0) return false;
            if ((chord.PitchClassMask & 1 << tuning.PitchClass(lifted, 0)) == 0) return false;
            if (grip.Frets.Where((f, s) => f > 0 && s != lifted).DefaultIfEmpty(0).Min() > 3) return false;
            // With it up to two low strings may go; not when it is the lowest itself.
            if (low == 0) return true;
            var above = grip.Sounding - (lifted - grip.BassString);
            return low <= 2 && lifted > grip.BassString && above >= 3 && grip.Sounding - low >= 3;
        }
    }

    [Fact]
    public void A_reduction_says_what_it_came_from()
    {
        var found = new ShapeFinder(Known.Results, Tuning.Standard).Taught(Chord.Parse("G"));
        var top = found.Single(f => f.Shape.Equals(Shape.Parse("xx0003")));
        Assert.Equal(ShapeSource.Reduction, top.Origin.Source);
        Assert.Equal(("G", 2, 0, -1), (top.Origin.Chord.Name, top.Origin.LowLeftOut, top.Origin.HighLeftOut, top.Origin.Lifted));
    }

    [Fact]
    public void What_is_searched_belongs_to_the_chord_and_keeps_its_telling_notes()
    {
        foreach (var symbol in new[] { "Bm", "F#7", "Ebmaj7", "C7b9", "G#dim7", "Asus4", "D/F#" })
        {
            var chord = Chord.Parse(symbol);
            var found = new ShapeFinder(Known.Results, Tuning.Standard).Searched(chord);
            Assert.NotEmpty(found);
            foreach (var f in found)
            {
                Assert.Equal(0, f.Shape.PitchClassMask(Tuning.Standard) & ~chord.PitchClassMask);
                Assert.DoesNotContain(Closeness.Of(f.Shape, chord, Tuning.Standard).Missing,
                    d => d.Role is DegreeRole.ThirdOrSuspension or DegreeRole.Seventh);
            }
        }
    }

    [Fact]
    public void A_guitar_tuned_down_plays_the_grip_of_the_higher_chord()
    {
        // A half step down, the E shape sounds E♭.
        var found = new ShapeFinder(Known.Results, Tuning.Standard.Shift(-1)).Taught(Chord.Parse("Eb"));
        Assert.Contains(found, f => f.Shape.Equals(Shape.Parse("022100")));
        Assert.Equal(Chord.Parse("Eb").PitchClassMask, Shape.Parse("022100").PitchClassMask(Tuning.Standard.Shift(-1)));
    }

    [Fact]
    public void A_capo_with_the_guitar_tuned_down_as_far_sounds_the_same()
    {
        foreach (var grip in GripLibrary.All)
            for (var capo = 1; capo <= 9; capo++)
                Assert.Equal(grip.Shape.PitchClassMask(Tuning.Standard),
                    grip.Shape.PitchClassMask(Tuning.Standard.Shift(-capo), capo));
    }

    [Fact]
    public void Closeness_falls_in_the_order_teachers_name()
    {
        double Of(string frets, string chord, Accompaniment company = Accompaniment.Record) =>
            Closeness.Of(Shape.Parse(frets), Chord.Parse(chord), Tuning.Standard, 0, company).Value;
        Assert.Equal(1, Of("133211", "F"));
        Assert.True(Of("133211", "F") > Of("xx3211", "F"));
        Assert.True(Of("xx3211", "F") > Of("xx3210", "F"));     // Fmaj7 for F
        Assert.True(Of("xx3210", "F") > Of("133xxx", "F"));     // a power chord for F
        Assert.True(Of("x32033", "C") > Of("022100", "C"));     // Cadd9 for C against E for C
        Assert.True(Of("2x0232", "D/F#") > Of("xx0232", "D/F#"));
        Assert.True(Of("xx0232", "D/F#", Accompaniment.Alone) < Of("xx0232", "D/F#", Accompaniment.Record));
    }

    /// <summary>Every combination of frets is tried: what the rules of the document let through is what the search
    /// finds.</summary>
    [Theory]
    [InlineData("C")]
    [InlineData("Am")]
    [InlineData("F#m7")]
    [InlineData("G7")]
    [InlineData("Dsus4")]
    [InlineData("Bm7b5")]
    [InlineData("C/E")]
    [InlineData("E7#9")]
    public void The_search_finds_what_the_rules_let_through_and_nothing_else(string symbol)
    {
        var (chord, tuning) = (Chord.Parse(symbol), Tuning.Standard);
        int Tone(int semitones) => 1 << (chord.Root.PitchClass + semitones) % 12;
        int Needed(params DegreeRole[] roles) =>
            chord.Degrees.Where(d => roles.Contains(d.Role)).Aggregate(0, (m, d) => m | Tone(d.Semitones));
        var guide = Needed(DegreeRole.ThirdOrSuspension, DegreeRole.Seventh, DegreeRole.AlteredFifth);
        var whole = guide | Needed(DegreeRole.Root);
        bool Lets(int[] frets)
        {
            int first = Array.FindIndex(frets, f => f >= 0), last = Array.FindLastIndex(frets, f => f >= 0);
            var sounding = frets[first..(last + 1)];
            var stopped = sounding.Where(f => f > 0).ToList();
            // No string is silent between two that sound, and something is held.
            if (sounding.Contains(-1) || stopped.Count == 0) return false;
            var (lowest, tones) =
                (stopped.Min(), sounding.Select((f, i) => 1 << tuning.PitchClass(first + i, f)).Aggregate((a, b) => a | b));
            var isTop = first == 3 && last == 5 && lowest <= 4 && (guide & ~tones) == 0;
            var isLong = first <= 2 && last >= 4 && last - first >= 3 && lowest <= 10 && (whole & ~tones) == 0
                && tuning.PitchClass(first, frets[first]) == chord.BassPitchClass;
            if (!isTop && !isLong || stopped.Max() > lowest + 3 || lowest > 7 && sounding.Contains(0)) return false;
            // Four fingers, one of which may hold two strings, or lie over those of the lowest fret with no open one between.
            int from = Array.IndexOf(frets, lowest), to = Array.LastIndexOf(frets, lowest);
            var atLowest = frets[from..(to + 1)].Contains(0) ? stopped.Count(f => f == lowest) : 1;
            return atLowest + stopped.Count(f => f > lowest) <= 5;
        }
        var let = new HashSet<string>();
        var frets = new int[6];
        void Try(int s)
        {
            if (s == 6)
            {
                if (Array.Exists(frets, f => f >= 0) && Lets(frets)) let.Add(new Shape(frets).ToString());
                return;
            }
            for (frets[s] = -1; frets[s] <= 13; frets[s]++)
                if (frets[s] < 0 || (chord.PitchClassMask & 1 << tuning.PitchClass(s, frets[s])) != 0)
                {
                    var held = frets[s];
                    Try(s + 1);
                    frets[s] = held;
                }
        }
        Try(0);
        Assert.Equal(let.Order(StringComparer.Ordinal),
            new ShapeFinder(Known.Results, tuning).Searched(chord).Select(f => f.Shape.ToString())
                .Order(StringComparer.Ordinal));
    }
}
