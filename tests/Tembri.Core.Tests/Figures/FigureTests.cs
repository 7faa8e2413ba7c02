using CsCheck;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Tests.Figures;

public sealed class FigureTests
{
    private static readonly FigurePathFinder Finder = new(new NeckGeometry(Guitar.Steel, 0), Hand.Medium);

    private static Gen<T> Pick<T>(params T[] of) => Gen.Int[0, of.Length - 1].Select(i => of[i]);

    private static FigureTask Task(IReadOnlyList<FigureNote> notes, double tempo = 90, int? position = null) =>
        new(notes, tempo, position);

    /// <summary>Notes one after another, each half a beat.</summary>
    private static FigureNote[] Notes(params int[] pitches) =>
        [.. pitches.Select((p, i) => new FigureNote(FigureLine.PitchOf(p), i * 0.5, 0.5))];

    private static IReadOnlyList<FigureNote> Read(string line, double beats = 4)
    {
        var problems = new List<string>();
        var notes = FigureLine.Read(line, _ => beats, Tuning.Standard, (_, m) => problems.Add(m));
        Assert.Empty(problems);
        return notes;
    }

    private static string Said(FigurePath path) =>
        string.Join(' ', path.Places.Select(p => $"{6 - p.String}/{p.Fret}{(p.Fret == 0 ? "" : $":{(int)p.Finger}")}"));

    [Fact]
    public void The_way_found_is_the_cheapest_of_all_ways_there_are() =>
        Gen.Select(Gen.Int[40, 80].Array[3], Gen.Double[40, 200], Gen.Int[0, 3], Gen.Bool).Sample((pitches, tempo, how, child) =>
        {
            var finder = new FigurePathFinder(new NeckGeometry(Guitar.Steel, child ? 3 : 0),
                child ? Hand.Preset("child") : Hand.Medium, Tuning.Standard.Shift(child ? 3 : 0));
            var notes = Notes(pitches);
            if (child && pitches.Min() < 43) return;
            notes[2] = notes[2] with { How = (Ornament)how };
            var task = Task(notes, tempo);
            var found = finder.Find(task);
            var places = notes.Select(n => finder.PlacesOf(n, task)).ToList();
            var least = places[0].SelectMany(_ => places[1], (a, b) => (a, b)).AsParallel()
                .Min(x => places[2].Min(c => finder.CostOf(task, [x.a, x.b, c])));
            if (found is null) Assert.True(double.IsPositiveInfinity(least));
            else
            {
                Assert.Equal(least, found.Cost, 1e-9);
                Assert.Equal(found.Cost, finder.CostOf(task, found.Places), 1e-9);
            }
        }, iter: 25);

    [Fact]
    public void Every_way_plays_the_notes_and_the_others_cost_more() =>
        Gen.Select(Gen.Int[40, 79].Array[1, 40], Gen.Double[40, 200]).Sample((pitches, tempo) =>
        {
            var task = Task(Notes(pitches), tempo);
            var best = Finder.Find(task)!;
            foreach (var path in Finder.Others(task).Prepend(best))
            {
                Assert.Equal(pitches, path.Places.Select(p => Tuning.Standard.Strings[p.String] + p.Fret));
                Assert.All(path.Places, p => Assert.Equal(p.Fret == 0, p.Finger == Finger.None));
                // A finger a fret, one more at either end.
                Assert.All(path.Places.Where(p => p.Fret > 0),
                    p => Assert.InRange(p.Fret - p.Position - (int)p.Finger + 1, p.Finger == Finger.Index ? -1 : 0,
                        p.Finger == Finger.Little ? 1 : 0));
                Assert.True(path.Cost >= best.Cost - 1e-9);
            }
            Assert.True(Finder.Find(task with { Tempo = tempo * 1.2 })!.Load >= best.Load - 1e-9);
        }, iter: 60);

    [Theory]
    // up from C: the open string, then the fingers that lie there
    [InlineData("| C3 D3 E3 F3 |", "5/3:3 4/0 4/2:2 4/3:3")]
    // a bass run from G to C, as everybody plays it: open A, then 2 and 3
    [InlineData("| G2 A2 B2 C3 |", "6/3:3 5/0 5/2:2 5/3:3")]
    // written places are kept, hammered and pulled on one string
    [InlineData("| 5/3 h5/5 p5/3 5/0 |", "5/3:1 5/5:3 5/3:1 5/0")]
    public void A_run_lies_where_a_player_plays_it(string line, string places)
    {
        var path = Finder.Find(Task(Read(line)));
        Assert.NotNull(path);
        if (line.Contains('/')) Assert.Equal(places, Said(path));
        else Assert.Equal(places.Split(' ').Select(p => p.Split(':')[0]), Said(path).Split(' ').Select(p => p.Split(':')[0]));
    }

    [Fact]
    public void A_pinned_position_is_kept_and_a_slide_keeps_its_finger()
    {
        var path = Finder.Find(Task(Notes(60, 62, 64, 65, 67), position: 5))!;
        Assert.All(path.Places, p => Assert.Equal(5, p.Position));
        var slide = Finder.Find(Task(Read("| 3/2 s3/5 . . |")))!;
        Assert.Equal(slide.Places[0].Finger, slide.Places[1].Finger);
        Assert.Null(Finder.Find(Task(Notes(30))));                       // below the lowest string
        Assert.Null(Finder.Find(Task(Notes(60, 76), position: 1)));      // out of this position
    }

    [Fact]
    public void A_shape_around_the_figure_keeps_its_fingers()
    {
        // C held, x32010: the C on string 5 is under the ring finger, the E on string 4 under the middle finger.
        var held = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, false).Find(Shape.Parse("x32010"), 1)[0];
        var path = Finder.Find(Task(Notes(48, 52, 55, 60)) with { Held = held })!;
        Assert.Equal(held.Fingers[1], path.Places[0].Finger);
        Assert.Equal(held.Fingers[2], path.Places[1].Finger);
        Assert.Equal((3, 0), (path.Places[2].String, path.Places[2].Fret));
    }

    [Fact]
    public void Above_a_capo_strings_and_frets_stay_and_sound_higher()
    {
        var chart = Core.Charts.Reading.ChartReader.Read("capo: 2\n[Verse]\nfigure: | 5/3 4/2 4/0 3/0 |\n| C |\n").Chart;
        Assert.Equal("D", chart.Sections[0].Bars[0].Slots[0].Symbol);
        var notes = Assert.Single(chart.Sections[0].Figures).Notes;
        Assert.Equal([new(1, 3), new(2, 2), new(2, 0), new(3, 0)], notes.Select(n => n.Where!.Value));
        Assert.Equal([50, 54, 52, 57], notes.Select(n => n.Pitch.Midi));   // C3 E3 D3 G3, a tone higher
    }

    [Fact]
    public void A_figure_written_out_is_read_back() =>
        Gen.Select(Pick("E3", "6/3", "h4/2", "pG#3", "s2/5", "bA4", ".", "-", "1/12").Array[1, 12],
                Pick("E3", "3/0", ".", "-").Array[1, 8]).Sample((first, second) =>
        {
            var notes = FigureLine.Read($"| {string.Join(' ', first)} | {string.Join(' ', second)} |", _ => 4, Tuning.Standard,
                (_, m) => Assert.Fail(m));
            if (notes.Count == 0) return;
            var figure = new Figure(0, notes);
            var again = FigureLine.Read(FigureLine.Write(figure, _ => 4), _ => 4, Tuning.Standard, (_, m) => Assert.Fail(m));
            Assert.Equal(notes.Select(n => (n.Pitch, n.How, n.Where, Math.Round(n.At, 6), Math.Round(n.Beats, 6))),
                again.Select(n => (n.Pitch, n.How, n.Where, Math.Round(n.At, 6), Math.Round(n.Beats, 6))));
        }, iter: 300);

    [Fact]
    public void What_is_no_note_is_said_where_it_stands()
    {
        var problems = new List<(int, string)>();
        var notes =
            FigureLine.Read("| E3 H9 . q | - |", b => b == 0 ? 4 : null, Tuning.Standard, (at, m) => problems.Add((at, m)));
        Assert.Single(notes);
        Assert.Equal([5, 10, 13], problems.Select(p => p.Item1));
        Assert.Contains("longer than its section", problems[2].Item2, StringComparison.Ordinal);
    }

    [Fact]
    public void Tablature_is_read_with_its_bars_strings_frets_and_signs()
    {
        var read = TabReader.Read(
            """
            e|-----------------|-----------------|
            B|-----------------|-----------------|
            G|-----------------|-0---------------|
            D|-0---2h4-p2------|-----------------|
            A|-------------3/5-|---------3-------|
            E|-----------------|-----------------|
            """, 4);
        Assert.Empty(read.Problems);
        Assert.Equal(2, read.Bars);
        // Sixteen columns a bar after the lead: the columns 0, 4, 6, 9, 12, 14 of the first.
        Assert.Equal([(50, 0.0), (52, 1.0), (54, 1.5), (52, 2.25), (48, 3.0), (50, 3.5), (55, 4.0), (48, 6.0)],
            read.Notes.Select(n => (n.Pitch.Midi, n.At)));
        Assert.Equal([Ornament.None, Ornament.None, Ornament.Hammer, Ornament.Pull, Ornament.None, Ornament.Slide, Ornament.None,
                Ornament.None], read.Notes.Select(n => n.How));
        Assert.Equal(new StringFret(2, 2), read.Notes[1].Where);
        Assert.Contains("six", TabReader.Read("e|--0--|\nB|--1--|", 4).Problems[0].Replace("6", "six", StringComparison.Ordinal),
            StringComparison.Ordinal);
    }

    [Fact]
    public void A_figure_gets_lighter_from_rung_to_rung_and_keeps_what_falls_on_the_beat() =>
        Gen.Select(Gen.Int[40, 76].Array[4, 24], Pick(0.25, 0.5, 1.0, 1 / 3.0).Array[4, 24]).Sample((pitches, lengths) =>
        {
            var (notes, at) = (new List<FigureNote>(), 0.0);
            for (var i = 0; i < Math.Min(pitches.Length, lengths.Length); at += lengths[i++])
                notes.Add(new FigureNote(FigureLine.PitchOf(pitches[i]), at, lengths[i]));
            var figure = new Figure(0, notes);
            Assert.Null(FigureRungs.Of(figure, 1, 2));
            Assert.Equal(figure, FigureRungs.Of(figure, 5, 2));
            var (beats, halves) = (FigureRungs.Of(figure, 2, 2)!.Notes, FigureRungs.Of(figure, 3, 2)!.Notes);
            Assert.True(beats.Count <= halves.Count && halves.Count <= notes.Count);
            foreach (var (thinned, part) in new[] { (beats, 1.0), (halves, 0.5) })
            {
                Assert.All(thinned, n => Assert.Equal(0, n.At / part % 1, 1e-6));
                foreach (var (a, b) in thinned.Zip(thinned.Skip(1))) Assert.True(a.At + a.Beats <= b.At + 1e-9);
                Assert.All(notes.Where(n => Math.Abs(n.At / part - Math.Round(n.At / part)) < 1e-6),
                    n => Assert.Contains(thinned, t => Math.Abs(t.At - n.At) < 1e-6 && t.Pitch == n.Pitch));
            }
        }, iter: 200);
}
