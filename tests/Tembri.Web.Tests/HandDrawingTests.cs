using CsCheck;
using Tembri.Core.Changes;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Web.Drawings;

namespace Tembri.Web.Tests;

/// <summary>The fretboard that is drawn on, and a change on one neck: to scale, pressed where it says, and the same for a left
/// hand.</summary>
public sealed class HandDrawingTests
{
    private static readonly NeckGeometry Neck = new(Guitar.Steel, 0);
    private static readonly FingeringFinder Finder = new(Neck, Hand.Medium, thumb: true);

    private static string Named(int s, int fret) => $"/{s}/{fret}";

    private static Scene Board(IReadOnlyList<int> frets, int first, bool left, NeckGeometry? neck = null) =>
        BoardDrawing.Draw(frets, Finder.Best(new Shape([.. frets])), neck ?? Neck, first, left, 0, Named);

    private static double Middle(Link link) => link.Marks.OfType<Slab>().First() is var s ? s.X + s.Width / 2 : 0;

    [Fact]
    public void Every_string_can_be_pressed_at_every_fret_seen_opened_and_left_out_once()
    {
        Gen.Select(Gen.Int[-1, 12].Array[6], Gen.Int[1, 9], Gen.Bool, Gen.Int[0, 7]).Sample((frets, wanted, left, capo) =>
        {
            if (frets.All(f => f < 0)) return;
            // Seen from where the whole window still lies on the neck, as the page has it.
            var neck = new NeckGeometry(Guitar.Steel, capo);
            var first = Math.Min(wanted, neck.HighestFret - BoardDrawing.Window + 1);
            var links = BoardDrawing.Draw(frets, null, neck, first, left, 0, Named).Marks.OfType<Link>().ToList();
            Assert.Equal(6 * (BoardDrawing.Window + 2), links.Count);
            // A press on what is pressed takes the finger off; every other press brings it there.
            var expected = from s in Enumerable.Range(0,
                6) from fret in Enumerable.Range(first, BoardDrawing.Window).Append(0)
                    .Append(-1) select Named(s, fret > 0 && frets[s] == fret ? -1 : fret);
            Assert.Equal(expected.Order(), links.Select(l => l.Address).Order());
            // What is so now is marked: one place a string, unless it lies out of sight.
            Assert.Equal(frets.Count(f => f <= 0 || f >= first && f < first + BoardDrawing.Window),
                links.Count(l => l.IsCurrent));
            Assert.Equal(links.Count, links.Select(l => l.Name).Distinct().Count());
            foreach (var link in links)
                Assert.True(link.Marks.OfType<Slab>().First() is { Width: >= 24, Height: >= 24 },
                    $"{link.Name} is large enough to press");
        }, iter: 120);
    }

    [Fact]
    public void Frets_stand_to_scale_and_a_left_hand_sees_them_mirrored()
    {
        foreach (var capo in new[] { 0, 3 })
        {
            var neck = new NeckGeometry(Guitar.Steel, capo);
            var (right, left) = (Board([-1, 3, 2, 0, 1, 0], 1, false, neck), Board([-1, 3, 2, 0, 1, 0], 1, true, neck));
            double Width(Scene scene, int fret) =>
                scene.Marks.OfType<Link>().Single(l => l.Key == $"2-{fret}").Marks.OfType<Slab>().First().Width + 2;
            for (var fret = 1; fret < BoardDrawing.Window; fret++)
                Assert.Equal((neck.WireFromNut(capo + fret + 1) - neck.WireFromNut(capo + fret))
                        / (neck.WireFromNut(capo + fret) - neck.WireFromNut(capo + fret - 1)),
                    Width(right, fret + 1) / Width(right, fret), 6);
            var (ours, theirs) = (right.Marks.OfType<Link>().ToList(), left.Marks.OfType<Link>().ToDictionary(l => l.Name));
            Assert.All(ours, l => Assert.Equal(right.Width - Middle(l), Middle(theirs[l.Name]), 1e-6));
        }
    }

    [Fact]
    public void The_drawing_shows_the_fingers_it_says()
    {
        foreach (var grip in GripLibrary.All.Where(
            g => g.Shape.StringCount == 6 && g.Shape.HighestStopped <= BoardDrawing.Window))
        {
            var fingering = Finder.Best(grip.Shape);
            if (fingering is null) continue;
            var scene = Board(grip.Shape.Frets, 1, false);
            Assert.Equal(grip.Shape.Frets.Count(f => f > 0), scene.Marks.OfType<Disc>().Count());
            Assert.Equal(
                fingering.Fingers.Where(f => f != Finger.None).Select(f => f == Finger.Thumb ? "T" : $"{(int)f}").Order(),
                scene.Marks.OfType<Label>().Where(l => l.Tone == Tone.Paper).Select(l => l.Text).Order());
            Assert.Equal(fingering.Barres.Count, scene.Marks.OfType<Slab>().Count());
        }
    }

    [Fact]
    public void A_change_shows_the_way_of_every_finger_that_moves_far_enough_to_draw_and_of_no_other()
    {
        var model = new ChangeModel(Neck);
        var shapes = new[]
        {
            "x32010", "320003", "xx0232", "022000", "x02210", "xx3211", "133211", "x24432", "x02020", "x21202", "355433"
        }.Select(s => Finder.Best(Shape.Parse(s))!).ToList();
        foreach (var from in shapes)
            foreach (var to in shapes)
            {
                var change = model.Between(from, to);
                var scene = ChangeDrawing.Draw(change, Neck, false, 0, 400);
                var arrows = scene.Marks.OfType<Area>().Count();
                // A finger that stays or only comes or goes has no way; one that slides or moves has, where it is longer than
                // the dots.
                Assert.True(arrows <= change.Guides.Count + change.Moving.Count, $"{from} to {to}: {arrows}");
                Assert.Equal(arrows, scene.Marks.OfType<Line>().Count(l => l.Tone == Tone.Accent));
                if (ReferenceEquals(from, to)) Assert.Equal(0, arrows);
                // Numbers on what is reached: one a finger.
                Assert.Equal(Enumerable.Range(1, 5).Count(f => to.Spots[f].Fret > 0),
                    scene.Marks.OfType<Label>().Count(l => l.Tone == Tone.Paper));
                Assert.Contains("After:", scene.Words, StringComparison.Ordinal);
                // The farther a finger goes along the neck, the longer its arrow; mirrored it is as long.
                var mirrored = ChangeDrawing.Draw(change, Neck, true, 0, 400);
                static IEnumerable<double> Lengths(Scene s) =>
                    s.Marks.OfType<Line>().Where(l => l.Tone == Tone.Accent)
                        .Select(l => Math.Round(Math.Sqrt((l.X1 - l.X2) * (l.X1 - l.X2) + (l.Y1 - l.Y2) * (l.Y1 - l.Y2)), 6))
                        .Order();
                Assert.Equal(Lengths(scene), Lengths(mirrored));
            }
        // F at the nut to the same form two frets up: every finger goes the same way, as far as the neck says.
        var slide = model.Between(Finder.Best(Shape.Parse("133211"))!, Finder.Best(Shape.Parse("355433"))!);
        var ways =
            ChangeDrawing.Draw(slide, Neck, false, 0, 400).Marks.OfType<Line>().Where(l => l.Tone == Tone.Accent).ToList();
        Assert.Equal(4, ways.Count);
        Assert.All(ways, w => Assert.True(w.X2 > w.X1 && Math.Abs(w.Y1 - w.Y2) < 1e-6));
    }

    [Theory]
    [InlineData("C", "C")]
    [InlineData("F#m7b5", "F|♯|m|^7|^♭|^5")]
    [InlineData("Bbmaj9/D", "B|♭|^maj9|/D")]
    [InlineData("G7sus4", "G|^7sus4")]
    public void A_chord_in_a_drawing_has_its_extensions_raised_and_comes_down_again(string symbol, string runs)
    {
        var helper = new SceneTagHelper { Model = new Scene(40, 20, "", [new Symbol(20, 15, Chord.Parse(symbol), 20)]) };
        var output = new Microsoft.AspNetCore.Razor.TagHelpers.TagHelperOutput("scene", [],
            (_, _) => Task.FromResult<Microsoft.AspNetCore.Razor.TagHelpers.TagHelperContent>(
                new Microsoft.AspNetCore.Razor.TagHelpers.DefaultTagHelperContent()));
        helper.Process(new Microsoft.AspNetCore.Razor.TagHelpers.TagHelperContext([], new Dictionary<object, object>(), "x"),
            output);
        using var writer = new StringWriter();
        output.Content.WriteTo(writer, System.Text.Encodings.Web.HtmlEncoder.Create(System.Text.Unicode.UnicodeRanges.All));
        var parts = new AngleSharp.Html.Parser.HtmlParser().ParseDocument($"<svg>{writer}</svg>").QuerySelectorAll("tspan");
        Assert.Equal(runs, string.Join("|", parts.Select(p => (p.HasAttribute("font-size") ? "^" : "") + p.TextContent)));
        // Every rise is followed by the same fall before what stands on the line.
        var at = 0.0;
        foreach (var part in parts)
        {
            at += double.Parse(part.GetAttribute("dy") ?? "0", System.Globalization.CultureInfo.InvariantCulture);
            Assert.Equal(part.HasAttribute("font-size") ? -6.8 : 0, at, 1e-6);
        }
    }
}
