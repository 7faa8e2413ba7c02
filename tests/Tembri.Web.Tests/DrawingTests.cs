using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Drawings;

namespace Tembri.Web.Tests;

public sealed class DrawingTests
{
    private static readonly FingeringFinder Finder = new(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true);

    private static IEnumerable<Mark> Flat(Scene scene) => scene.Marks.SelectMany(m => m is Link link ? link.Marks : [m]);

    private static void StaysInside(Scene scene)
    {
        foreach (var mark in Flat(scene))
        {
            var (x, y) = mark switch
            {
                Line l => (Math.Max(l.X1, l.X2), Math.Max(l.Y1, l.Y2)),
                Disc d => (d.X + d.Radius, d.Y + d.Radius),
                Slab s => (s.X + s.Width, s.Y + s.Height),
                Label l => (l.X, l.Y),
                _ => (0, 0),
            };
            Assert.True(x <= scene.Width + 0.5 && y <= scene.Height + 0.5, $"{mark} leaves {scene.Width} × {scene.Height}");
        }
    }

    [Fact]
    public void Every_grip_is_drawn_with_its_fingers_its_open_strings_and_those_left_out()
    {
        foreach (var grip in GripLibrary.All)
        {
            var fingering = Finder.Weigh(grip.Shape, grip.Fingers)!;
            var scene = ShapeDrawing.Draw(fingering, leftHanded: false);
            StaysInside(scene);
            Assert.Equal(grip.Shape.Frets.Count(f => f == 0), scene.Marks.OfType<Disc>().Count(d => d.Weight > 0));
            Assert.Equal(grip.Shape.Frets.Count(f => f < 0), scene.Marks.OfType<Line>().Count(l => l.Broken));
            // One number for each finger that is placed, a lying one counted once.
            var placed = fingering.Fingers.Select((f, s) => (f, s)).Where(x => x.f != Finger.None)
                .Count(x => fingering.Barres.All(b => b.Finger != x.f || b.LowString == x.s));
            Assert.Equal(placed, scene.Marks.OfType<Label>().Count(l => l.Tone == Tone.Paper));
        }
    }

    [Fact]
    public void Fret_numbers_count_from_the_nut_when_asked_and_nothing_else_changes()
    {
        foreach (var grip in GripLibrary.All)
        {
            var fingering = Finder.Weigh(grip.Shape, grip.Fingers)!;
            var (capo, nut) = (ShapeDrawing.Draw(fingering, false), ShapeDrawing.Draw(fingering, false, below: 3));
            Label? Number(Scene scene) => scene.Marks.OfType<Label>().SingleOrDefault(l => l.Tone == Tone.Ink);
            // The fret that the first row of the drawing stands for; a row at the capo is numbered only when that says
            // something.
            var first = Number(capo) is { } label ? int.Parse(label.Text, System.Globalization.CultureInfo.InvariantCulture) : 1;
            Assert.Equal($"{first + 3}", Number(nut)!.Text);
            Assert.Equal(capo.Marks.Where(m => m is not Label { Tone: Tone.Ink }),
                nut.Marks.Where(m => m is not Label { Tone: Tone.Ink }));
            if (grip.Shape.HighestStopped > 0)
                Assert.Contains($"fret {grip.Shape.HighestStopped + 3} ", nut.Words, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_left_handed_drawing_is_the_mirror_of_the_right_handed_one()
    {
        foreach (var grip in GripLibrary.All)
        {
            var fingering = Finder.Weigh(grip.Shape, grip.Fingers)!;
            var (right, left) = (ShapeDrawing.Draw(fingering, false), ShapeDrawing.Draw(fingering, true));
            Assert.Equal(right.Width, left.Width);
            var mirrored =
                right.Marks.OfType<Disc>().Select(d => (X: Math.Round(right.Width - d.X, 6), d.Y)).OrderBy(p => p).ToList();
            Assert.Equal(mirrored, left.Marks.OfType<Disc>().Select(d => (X: Math.Round(d.X, 6), d.Y)).OrderBy(p => p));
            Assert.Equal(right.Words, left.Words);
        }
    }

    [Fact]
    public void The_drawing_to_scale_measures_the_reach_in_millimetres()
    {
        // F at the nut: landings at 25.5 and 93.4 mm, 68 mm apart.
        var fingering = Finder.Weigh(Shape.Parse("133211"),
            [Finger.Index, Finger.Ring, Finger.Little, Finger.Middle, Finger.Index, Finger.Index])!;
        var scene = ShapeDrawing.DrawToScale(fingering, new NeckGeometry(Guitar.Steel, 0), leftHanded: false);
        Assert.Contains(scene.Marks.OfType<Label>(), l => l.Text == "68 mm");
        var wires = scene.Marks.OfType<Line>().Where(l => l.Y1 == l.Y2 && l.X2 - l.X1 > 30).Select(l => l.Y1).Distinct().Order()
            .ToList();
        Assert.Equal(36.37, wires[1] - wires[0], 1);
        Assert.Equal(34.33, wires[2] - wires[1], 1);
    }

    [Fact]
    public void The_neck_shows_every_position_as_a_link_and_marks_the_one_chosen()
    {
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest
            {
                Chart = ChartReader.Read("key: Eb\n| Eb | Ab | Bb | Eb |").Chart, Kind = PlayerKind.Usual
            });
        var scene = NeckDrawing.Draw(ladder, NoteNames.AsKey, new NeckGeometry(Guitar.Steel, 0), 3, capo => $"/?capo={capo}");
        StaysInside(scene);
        var links = scene.Marks.OfType<Link>().ToList();
        Assert.Equal(ladder.Places.Select(p => $"/?capo={p.Capo}"), links.Select(l => l.Address));
        Assert.Equal($"/?capo={ladder.Capo}", Assert.Single(links, l => l.IsCurrent).Address);
        Assert.Contains("advised", Assert.Single(links, l => l.IsCurrent).Name, StringComparison.Ordinal);
        // Frets to scale: each space is 2^(−1/12) of the one before.
        var wires = scene.Marks.OfType<Line>().Where(l => l.X1 == l.X2).Select(l => l.X1).Distinct().Order().ToList();
        Assert.Equal(Math.Pow(2, -1 / 12.0), (wires[2] - wires[1]) / (wires[1] - wires[0]), 3);
    }

    [Fact]
    public void Strums_wedges_forms_and_trade_offs_stay_inside_and_say_what_they_show()
    {
        foreach (var strum in ShippedStrum.All)
        {
            Assert.True(Meter.TryParse(strum.Meter, out var meter));
            var pattern = strum.In(meter);
            var scene = StrumDrawing.Draw(pattern);
            StaysInside(scene);
            Assert.Contains(strum.Name, scene.Words, StringComparison.Ordinal);
            Assert.Equal(pattern.Steps.Count(s => s.Stroke == Stroke.Miss), scene.Marks.OfType<Line>().Count(l => l.Broken));
            // Soft and loud: the letter of the notes, said in words, and strokes lighter and heavier than usual.
            foreach (var (loudness, letter, word, heavier) in new[]
            {
                (Loudness.Soft, "p", "softly", -1), (Loudness.Loud, "f", "loud", 1)
            })
            {
                var played = StrumDrawing.Draw(pattern, loudness);
                StaysInside(played);
                Assert.Contains(word, played.Words, StringComparison.Ordinal);
                var marks = played.Marks.Concat(played.Marks.OfType<Inset>().SelectMany(i => i.Scene.Marks)).ToList();
                Assert.Single(marks.OfType<Label>(), l => l.Text == letter);
                double Heaviest(IEnumerable<Mark> all) =>
                    all.OfType<Line>().Where(l => l.Tone == Tone.Ink).Select(l => l.Weight).DefaultIfEmpty().Max();
                if (!pattern.IsFree && Heaviest(scene.Marks) > 0)
                    Assert.Equal(heavier, Heaviest(marks).CompareTo(Heaviest(scene.Marks)));
            }
        }
        double Swell(double share) => WedgeDrawing.Draw(share).Marks.OfType<Area>().Single().Points.Max(p => p.X);
        Assert.True(Swell(0.2) < Swell(0.5) && Swell(0.5) < Swell(1));
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest
            {
                Chart = ChartReader.Read("form: Verse, Chorus x2\n[Verse]\n| C | F |\n[Chorus]\n| G | C |").Chart,
                Kind = PlayerKind.Usual, Capo = 0
            });
        var form = FormDrawing.Draw(ladder.Chart);
        Assert.Contains("Verse 8, Chorus 16", form.Words, StringComparison.Ordinal);
        var bars = form.Marks.OfType<Slab>().ToList();
        Assert.Equal(2, (bars[1].Width + 2) / (bars[0].Width + 2), 2); // drawn to length
        StaysInside(TradeOffDrawing.Draw(ladder, 3, load => $"/{load}"));
        Assert.Contains("rung 3 load", TradeOffDrawing.Draw(ladder, 3, load => "").Words, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("F#m7b5/C", "F|♯!|m|^7|^♭!|^5|/C")]
    [InlineData("Bbmaj7", "B|♭!|^maj7")]
    [InlineData("Cdim7", "C|^°!|^7")]
    [InlineData("Am", "A|m")]
    [InlineData("Dsus4", "D|^sus4")]
    public void Symbols_are_set_with_raised_extensions_and_real_signs(string symbol, string runs) =>
        Assert.Equal(runs,
            string.Join('|',
                ChordText.Runs(Chord.Parse(symbol)).Select(r => (r.Raised ? "^" : "") + r.Text + (r.IsSign ? "!" : ""))));
}
