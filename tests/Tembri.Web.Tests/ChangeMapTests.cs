using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Students;
using Tembri.Web.Drawings;

namespace Tembri.Web.Tests;

/// <summary>The map of changes: nothing covers anything, whatever the song; one changed thing moves nothing else.</summary>
public sealed class ChangeMapTests
{
    private static readonly string[] Many =
        ["C", "Am", "F", "G", "Dm", "Em", "E7", "A7", "D7", "G7", "Cmaj7", "Am7", "Fmaj7", "C7"];
    private static readonly LadderBuilder Builder = new(new ResultCache());

    private static (PlayableRung Rung, VersionFit Fit) Of(int chords)
    {
        // Every chord follows every other one at some place: as many bands as there can be.
        var order =
            from step in Enumerable.Range(1, chords - 1) from i in Enumerable.Range(0, chords) select Many[i * step % chords];
        var chart = ChartReader.Read("key: C\n\n[Verse]\n"
            + string.Join("\n", order.Chunk(4).Select(bars => "| " + string.Join(" | ", bars) + " |"))).Chart;
        var ladder = Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 });
        var rung = ladder.Played(3);
        return (rung, new VersionFit(VersionOutline.Of(rung, 90), new Player()));
    }

    private static Scene Draw(int chords) =>
        Of(chords) is var (rung, fit)
            ? ChangeMapDrawing.Draw(rung, fit, false, 0, NoteNames.AsKey, null, i => $"/{i}")
            : throw new InvalidOperationException();

    public static TheoryData<int> Counts => [2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14];

    [Theory]
    [MemberData(nameof(Counts))]
    public void No_band_crosses_a_shape_and_no_label_covers_another_or_a_shape(int chords)
    {
        var scene = Draw(chords);
        var shapes = scene.Marks.OfType<Inset>().Select(i => (Left: i.X, Top: i.Y, Right: i.X + 67, Bottom: i.Y + 82)).ToList();
        Assert.True(shapes.Count >= chords, $"{shapes.Count} of {chords}");
        foreach (var (a, i) in shapes.Select((s, i) => (s, i)))
        {
            Assert.True(a.Left >= 0 && a.Right <= scene.Width && a.Top >= 17 && a.Bottom <= scene.Height + 0.5, "on the sheet");
            Assert.All(shapes.Skip(i + 1),
                b => Assert.False(a.Left < b.Right && b.Left < a.Right && a.Top - 18 < b.Bottom && b.Top - 18 < a.Bottom,
                    $"shapes {a} {b}"));
        }
        var bands =
            scene.Marks.OfType<Link>().SelectMany(l => l.Marks).OfType<Curve>().Where(c => c.Tone != Tone.Clear).ToList();
        Assert.NotEmpty(bands);
        foreach (var band in bands)
            Assert.All(band.Points,
                p => Assert.All(shapes,
                    s => Assert.False(p.X > s.Left && p.X < s.Right && p.Y > s.Top - 16 && p.Y < s.Bottom,
                        $"a band at {p} crosses the shape at {s}")));
        var labels = scene.Marks.OfType<Label>().Where(l => l.HasHalo)
            .Select(l => (Left: l.X - l.Text.Length * l.Size * 0.25, Top: l.Y - 12, Right: l.X + l.Text.Length * l.Size * 0.25,
                Bottom: l.Y + 3)).ToList();
        Assert.NotEmpty(labels);
        foreach (var (a, i) in labels.Select((l, i) => (l, i)))
        {
            Assert.All(labels.Skip(i + 1),
                b => Assert.False(a.Left < b.Right && b.Left < a.Right && a.Top < b.Bottom && b.Top < a.Bottom,
                    $"labels {a} {b}"));
            Assert.All(shapes,
                s => Assert.False(a.Left < s.Right && s.Left < a.Right && a.Top < s.Bottom && s.Top < a.Bottom,
                    $"label {a} on {s}"));
        }
    }

    [Fact]
    public void Every_change_between_shown_shapes_can_be_pressed_and_is_told_in_words()
    {
        var (rung, fit) = Of(6);
        var scene = ChangeMapDrawing.Draw(rung, fit, false, 0, NoteNames.AsKey, null, i => $"/{i}");
        var pairs = rung.Changes.Select(c => (Math.Min(c.From, c.To), Math.Max(c.From, c.To))).Distinct().ToList();
        var links = scene.Marks.OfType<Link>().ToList();
        Assert.Equal(pairs.Count, links.Count);
        Assert.Equal(pairs.Order(),
            links.Select(l => rung.Changes[int.Parse(l.Address[1..], System.Globalization.CultureInfo.InvariantCulture)])
                .Select(c => (Math.Min(c.From, c.To), Math.Max(c.From, c.To))).Order());
        // The band tells the direction that is harder, and how often both come.
        Assert.All(links, l =>
        {
            var change = int.Parse(l.Address[1..], System.Globalization.CultureInfo.InvariantCulture);
            var both = rung.Changes.Select((c, i) => (c, i))
                .Where(x => x.c.From == rung.Changes[change].From && x.c.To == rung.Changes[change].To
                    || x.c.From == rung.Changes[change].To && x.c.To == rung.Changes[change].From).ToList();
            Assert.Equal(both.Min(x => fit.Changes[x.i].InTime), fit.Changes[change].InTime, 1e-9);
            Assert.Contains($"{both.Sum(x => x.c.Count)} times", l.Name, StringComparison.Ordinal);
        });
    }

    [Fact]
    public void Shapes_stay_where_they_are_when_one_of_them_changes()
    {
        var (rung, fit) = Of(7);
        var other =
            rung with { Chords = [.. rung.Played.Select((c, i) => i == 2 ? c with { Choice = rung.PlayedAs(3).Choice } : c)] };
        static IEnumerable<(double, double)> Places(Scene s) => s.Marks.OfType<Inset>().Select(i => (i.X, i.Y));
        Assert.Equal(
            Places(ChangeMapDrawing.Draw(rung, fit, false, 0, NoteNames.AsKey, null, i => "")),
            Places(ChangeMapDrawing.Draw(other, new VersionFit(VersionOutline.Of(other, 90), new Player()), false, 0,
                NoteNames.AsKey, null, i => "")));
    }
}
