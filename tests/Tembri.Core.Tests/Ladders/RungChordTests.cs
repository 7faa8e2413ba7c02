using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>What is said of each chord of a rung, on every demo song: what changes, what is new, what would be
/// quicker.</summary>
public sealed class RungChordTests
{
    private static readonly ArrangementRequest[] Requests =
    [.. Directory.GetFiles(Path.Combine(Repository.Folder, "demo", "songs"), "*.txt").Order(StringComparer.Ordinal)
        .SelectMany(f => new[] { new Player(), new Player { Thumb = true, Barres = BarreGoal.Avoid } }
            .Select(p => new ArrangementRequest { Chart = ChartReader.Read(File.ReadAllText(f)).Chart, Kind = p.Kind }))];

    /// <summary>A chord is changed where the rung below plays it otherwise, and new where no chord of the rung below is played
    /// so; a second shape is changed where the rung below does not use it before the same chord.</summary>
    [Fact]
    public void A_chord_is_new_where_the_rung_below_holds_nothing_like_it()
    {
        var (seconds, metElsewhere) = (0, 0);
        foreach (var request in Requests)
        {
            var ladder = Known.Builder.Build(request);
            PlayableRung? below = null;
            foreach (var rung in ladder.Rungs.OfType<PlayableRung>())
            {
                foreach (var chord in rung.Played)
                {
                    var same = below?.Played.Where(b => b.Choice.SameAs(chord.Choice)).ToList() ?? [];
                    var isKnown = chord.IsSecond
                        ? same.Exists(b => b.IsSecond && b.SongChord == chord.SongChord && b.Before?.Name == chord.Before?.Name)
                        : same.Exists(b => !b.IsSecond && b.Index == chord.Index);
                    Assert.Equal(!isKnown, chord.IsChanged);
                    Assert.Equal(!isKnown && same.Count == 0, chord.IsNew);
                    if (chord.IsSecond) seconds++;
                    if (chord.IsChanged && same.Count > 0) metElsewhere++;
                }
                below = rung;
            }
        }
        Assert.True(seconds > 5 && metElsewhere > 0, $"{seconds} second shapes, {metElsewhere} met elsewhere");
    }

    /// <summary>What is offered as quicker is allowed on its rung, another way to play that chord, and hardly less
    /// close.</summary>
    [Fact]
    public void What_is_quicker_keeps_the_limits_of_its_rung()
    {
        var offered = 0;
        foreach (var request in Requests)
        {
            var ladder = Known.Builder.Build(request);
            foreach (var rung in ladder.Rungs.OfType<PlayableRung>())
                foreach (var chord in rung.Played.Where(c => !c.IsSecond))
                    foreach (var (candidate, saved) in Known.Builder.Quicker(request, ladder, rung, chord))
                    {
                        Assert.True(rung.Limits.Allows(candidate), $"{chord.ShapeChord} {candidate.Fingering} on {rung.Number}");
                        Assert.False(candidate.SameAs(chord.Choice));
                        Assert.True(candidate.Closeness.Value >= chord.Choice.Closeness.Value - 0.15 - 1e-9);
                        Assert.True(saved > 0);
                        offered++;
                    }
        }
        Assert.True(offered > 50, $"{offered} were offered");
    }
}
