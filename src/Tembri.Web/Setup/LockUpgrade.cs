using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Data;

namespace Tembri.Web.Setup;

/// <summary>Shapes taken before version 0.4 were kept by the chord's name and the capo; they get the degree and the key of their
/// shapes, once.</summary>
internal static class LockUpgrade
{
    public static async Task RunAsync(TembriDbContext context, SignedInStudio current)
    {
        foreach (var studio in await context.Studios.Select(s => s.Id).ToListAsync())
        {
            current.Override = studio;
            var old = await context.LockedShapes.Where(l => l.ShapeTonic == null).ToListAsync();
            foreach (var locks in old.GroupBy(l => l.SongId))
            {
                var chart = ChartReader.Read(
                    await context.Songs.Where(s => s.Id == locks.Key).Select(s => s.ChartText).SingleAsync()).Chart;
                foreach (var locked in locks)
                {
                    var shapeKey = chart.Key.Transpose(-(locked.Capo + (locked.Tuning ?? chart.TuningShift)));
                    locked.ShapeTonic = shapeKey.Tonic.PitchClass;
                    locked.Chord = chart.Chords.FirstOrDefault(c => c.Name == locked.Chord)?.DegreeIn(chart.Key) ?? locked.Chord;
                }
            }
            // Two spellings of one chord are one degree; the shape taken last stays.
            foreach (var same in old.GroupBy(l => (l.SongId, l.StudentId, l.Rung, l.Chord, l.Capo, l.Tuning)))
                context.LockedShapes.RemoveRange(same.OrderByDescending(l => l.Id).Skip(1));
            await context.SaveChangesAsync();
            context.ChangeTracker.Clear();
        }
        current.Override = null;
    }
}
