using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Playing;

namespace Tembri.Core.Tests.Ladders;

/// <summary>Songs whose end is an earlier part moved up.</summary>
public sealed class KeyLiftTests
{
    private const string Beginning =
        "title: Up the Hill\nkey: G\ntempo: 96\nform: Verse, Chorus, Verse, Chorus, Last Chorus, End\n[Verse]\n| G | D/F# | Em7 "
            + "| C |\n[Chorus]\n| C . D . | G | Am7 | D7 |\n~ | E4 . D4 . | B3 | C4 | A3 |\n";

    /// <summary>The song with its last chorus and its end so many semitones higher, spelt as that key asks.</summary>
    private static Chart Rising(int semitones)
    {
        var end = ChartReader.Read(
            "key: G\n[Last Chorus]\n| C . D . | G | Am7 | D7 |\n~ | E4 . D4 . | B3 | C4 | A3 |\n[End]\n| G |\n").Chart;
        end = ChartTransposer.Move(end, end.Key.Transpose(semitones), semitones);
        var text = ChartWriter.Write(end);
        return ChartReader.Read(Beginning + text[text.IndexOf("[Last", StringComparison.Ordinal)..]).Chart;
    }

    private static readonly LadderBuilder Builder = new(new ResultCache());

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void A_last_chorus_moved_up_is_found_lowered_and_raised_to_what_it_was(int semitones)
    {
        var chart = Rising(semitones);
        var lift = KeyLift.Of(chart)!;
        Assert.Equal(("Last Chorus", semitones, "Chorus"), (chart.Sections[lift.Section].Name, lift.Semitones, lift.Like));
        var lowered = lift.Lower(chart);
        Assert.Equal(lowered.SectionNamed("Chorus")!.Bars.SelectMany(b => b.Slots).Select(s => s.Chord),
            lowered.SectionNamed("Last Chorus")!.Bars.SelectMany(b => b.Slots).Select(s => s.Chord));
        Assert.Equal(lowered.SectionNamed("Chorus")!.Bars.SelectMany(b => b.Melody),
            lowered.SectionNamed("Last Chorus")!.Bars.SelectMany(b => b.Melody));
        Assert.Equal(chart.Played().Select(s => s.Chord!.PitchClassMask),
            lift.Raise(lowered).Played().Select(s => s.Chord!.PitchClassMask));
        Assert.Equal(chart.PlayedBars().SelectMany(b => b.Melody).Select(n => n.Pitch.Midi),
            lift.Raise(lowered).PlayedBars().SelectMany(b => b.Melody).Select(n => n.Pitch.Midi));
        // What the singer must reach is what sounds.
        Assert.Equal((chart.MelodyRange!.Value.Low.Midi, chart.MelodyRange.Value.High.Midi),
            (lowered.MelodyRange!.Value.Low.Midi, lowered.MelodyRange.Value.High.Midi));
    }

    [Fact]
    public void What_does_not_rise_at_its_end_has_no_lift()
    {
        foreach (var text in (string[])
        [
            "[A]\n| C | G | Am | F |\n[B]\n| C | G | Am | F |",                                    // the same
            // five up: another part, not a lift
            "[A]\n| C | G | Am | F |\n[B]\n| F | C | Dm | Bb |",
            "[A]\n| C | G | Am | F |\n[B]\n| D | A | Bm | G7 |",                                   // one chord is another
            "[A]\n| C . . G | G | Am | F |\n[B]\n| D . A . | A | Bm | G |",                        // other lengths
            "[A]\n| C | C | C | C |\n[B]\n| D | D | D | D |",                                      // one chord only
            "form: A, B, A\n[A]\n| C | G | Am | F |\n[B]\n| D | A | Bm | G |",                     // it comes down again
        ]) Assert.Null(KeyLift.Of(ChartReader.Read("key: C\n" + text).Chart));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void With_the_capo_moved_up_the_same_shapes_sound_what_the_record_plays(int semitones)
    {
        var chart = Rising(semitones);
        var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, CapoUp = true };
        var ladder = Builder.Build(request);
        Assert.Equal(semitones, ladder.Lift!.Semitones);
        Assert.True(ladder.Capo + semitones <= ArrangementRequest.DefaultHighestCapo + semitones);
        // G, D/F♯, Em7, C, D, Am7 and D7, as in the beginning; one place for all needs those of the end as well.
        Assert.Equal(7, ladder.Flow.Chords.Count);
        var one = Builder.Build(request with { CapoUp = false });
        Assert.Null(one.Lift);
        Assert.True(one.Flow.Chords.Count > 7);
        Assert.NotEqual(ArrangementStamp.Of("x", request), ArrangementStamp.Of("x", request with { CapoUp = false }));
        foreach (var rung in ladder.Playable)
        {
            var version = new VersionChart(ladder, rung);
            var played = new Performance(version);
            var recorded = new ChordFlow(chart).Sequence.Select(s => chart.Chords[s.Chord]).ToList();
            if (rung.Limits.IsRecord)
                Assert.Equal(recorded.Select(c => c.PitchClassMask),
                    played.Chords.Select(c => Chord.Parse(c.Name).PitchClassMask));
            // In the last chorus every string sounds so much higher than in the chorus, and nothing else changes.
            var (chorus, last) =
                (played.Bars.First(b => b.Section == "Chorus"), played.Bars.First(b => b.Section == "Last Chorus"));
            IEnumerable<string> Strokes(PlayedBar from, int lowered) =>
                played.Strokes.Where(s => s.At >= from.At && s.At < from.At + 16)
                .Select(s => $"{s.At - from.At:0.###} {string.Join(' ', s.Notes.Select(n => n - lowered))}");
            Assert.Equal(Strokes(chorus, 0), Strokes(last, semitones));
            Assert.Contains($"capo {ladder.Capo + semitones}", version.Chart.SectionNamed("Last Chorus")!.Bars[0].Remarks);
        }
        // Where the neck ends there is no place to move it to.
        Assert.Null(Builder.Build(request with { Capo = 11 }).Lift);
    }
}
