using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;

namespace Tembri.Web.Ladders;

/// <summary>A song of a set, opened.</summary>
/// <param name="Song">The song.</param>
/// <param name="Rung">The number of its rung.</param>
/// <param name="Capo">The capo it is played with.</param>
/// <param name="Seconds">How long the form takes at the record's tempo, s.</param>
/// <param name="Chart">The chart.</param>
internal sealed record SetItem(Song Song, int Rung, int Capo, double Seconds, Chart Chart);

/// <summary>A set, opened.</summary>
internal sealed record OpenSet(SongSet Set, Student? Student, IReadOnlyList<SetItem> Items)
{
    /// <summary>How long all of it takes, s, without what is said between the songs.</summary>
    public double Seconds => Items.Sum(i => i.Seconds);

    /// <summary>How often the capo is moved, put on or taken off between two songs.</summary>
    public int CapoMoves => SetOrder.CapoMoves([.. Items.Select(i => i.Capo)]);
}

/// <summary>Opens sets of songs.</summary>
internal sealed class SetDesk(TembriDbContext context, SongGrades grades)
{
    /// <summary>Opens a set; null when there is none.</summary>
    public async Task<OpenSet?> OpenAsync(Guid id, CancellationToken leaving)
    {
        if (await context.SongSets.FirstOrDefaultAsync(s => s.Id == id, leaving) is not { } set) return null;
        var student = set.StudentId is { } who
            ? await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == who, leaving)
            : null;
        var wanted = set.Read();
        var ids = wanted.Select(w => w.Song).ToList();
        var songs = await context.Songs.AsNoTracking().Where(s => ids.Contains(s.Id)).ToDictionaryAsync(s => s.Id, leaving);
        var items = new List<SetItem>();
        foreach (var w in wanted)
        {
            if (!songs.TryGetValue(w.Song, out var song)) continue;
            var chart = ChartReader.Read(song.ChartText, leaving).Chart;
            var (rung, capo) = (w.Rung ?? RungLimits.Defaults[^1].Number, chart.RecordCapo);
            if (student is not null && LadderBuilder.Objection(chart.Chords.Count) is null)
            {
                var made = await grades.MakeAsync(song, [student], inBackground: false, leaving);
                if (made.TryGetValue(student.Id, out var outline))
                    (rung,
                        capo) = (w.Rung is { } own && outline.Find(own) is not null
                                ? own
                                : outline.Grade(student.ToPlayer()).WorkingRung ?? rung, outline.Capo);
            }
            items.Add(new SetItem(song, rung, capo, SetOrder.Seconds(chart), chart));
        }
        return new OpenSet(set, student, items);
    }
}
