using Microsoft.EntityFrameworkCore;
using Tembri.Core.Ladders;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;

namespace Tembri.Web.Setup;

/// <summary>Six weeks of made-up practice for the demo's students, from the simulator, the same for the same day: what came off
/// is chance, seeded, from true skills near those the file says.</summary>
internal sealed class DemoPractice(TembriDbContext context, LadderDesk desk, Logbook log, TimeProvider clock)
{
    /// <summary>How the demo says somebody practises.</summary>
    /// <param name="Songs">What is worked on.</param>
    /// <param name="DaysAWeek">On how many days.</param>
    /// <param name="Minutes">Minutes a day.</param>
    /// <param name="GrowthADay">Points a day the true skills grow on days of practice.</param>
    /// <param name="SilentDays">Days before today without anything.</param>
    /// <param name="HurtDaysAgo">When something hurt; 0 for never.</param>
    /// <param name="IsChild">True for a child.</param>
    internal sealed record Habit(
        IReadOnlyList<string> Songs, int DaysAWeek, int Minutes, double GrowthADay, int SilentDays = 0, int HurtDaysAgo = 0,
        bool IsChild = false, bool Sings = false);

    private const int Weeks = 6;
    private static readonly TimeSpan LeastOnARung = TimeSpan.FromDays(16);
    private const double OffFromGuess = 5;   // points, one standard deviation

    /// <summary>Makes the practice of every student that has a habit.</summary>
    public async Task MakeAsync(IReadOnlyDictionary<string, Habit> habits)
    {
        var students = await context.Students.AsNoTracking().ToListAsync();
        var songs = await context.Songs.AsNoTracking().ToDictionaryAsync(s => s.Title, s => s.Id);
        foreach (var (student, i) in students.OrderBy(s => s.Nickname).Select((s, i) => (s, i)))
            if (habits.GetValueOrDefault(student.Nickname) is { } habit)
                await MakeAsync(student, habit, [.. habit.Songs.Where(songs.ContainsKey).Select(t => songs[t])],
                    new Random(4100 + i));
    }

    private async Task MakeAsync(Student student, Habit habit, List<Guid> songs, Random random)
    {
        var now = clock.GetUtcNow();
        var start = now.AddDays(-7 * Weeks);
        var simulated = new SimulatedStudent(
            Skills.Each(t => Math.Clamp(student.Skills[t] + OffFromGuess * SimulatedStudent.Normal(random), 0, 95)), random);
        await context.Students.Where(s => s.Id == student.Id)
            .ExecuteUpdateAsync(set => set.SetProperty(s => s.GuessedAt, start).SetProperty(s => s.MinutesADay, habit.Minutes)
            .SetProperty(s => s.AgeGroup, habit.IsChild ? AgeGroup.Child : AgeGroup.Grown)
            .SetProperty(s => s.SingsAlong, habit.Sings));
        var entries = new List<NewEntry>();
        foreach (var (song, place) in songs.Select((s, p) => (s, p)))
        {
            if (await desk.OpenAsync(song, student.Id) is not { } open) continue;
            var playable = open.Ladder.Playable.ToList();
            var rung = playable.FirstOrDefault(r => r.Number == open.WorkingRung) ?? playable[0];
            var work = new SongWork
            {
                StudentId = student.Id, SongId = song, Rung = rung.Number, StartedAt = start.AddDays(place),
                Why = "right for now"
            };
            context.AddOwned(work);
            for (var day = place; day < 7 * Weeks - habit.SilentDays; day += songs.Count)
            {
                if (random.NextDouble() > habit.DaysAWeek / 7.0) continue;
                var at = start.AddDays(day).Date.AddHours(15 + random.NextDouble() * 3);
                simulated.Skills = Grown(simulated.Skills, habit.GrowthADay * songs.Count);
                // Up, once the true skills are up to it and it was played for a while.
                var today = student.ToPlayer() with { Skills = simulated.Skills };
                VersionFit Of(PlayableRung r) => new(VersionOutline.Of(r, open.Ladder.Chart.Tempo), today);
                if (at - work.StartedAt > LeastOnARung && Next(playable, rung) is { } above && Of(rung).Verdict == Verdict.Ready
                    && !StepAdvice.IsMuch(above, Of(above)))
                {
                    work.EndedAt = new DateTimeOffset(at, TimeSpan.Zero);
                    work = new SongWork
                    {
                        StudentId = student.Id, SongId = song, Rung = above.Number, StartedAt = work.EndedAt.Value,
                        Why = $"rung {rung.Limits.Label} is ready"
                    };
                    context.AddOwned(work);
                    rung = above;
                }
                entries.AddRange(Day(simulated, student, open, rung, new DateTimeOffset(at, TimeSpan.Zero), habit, random,
                    day == 7 * Weeks - habit.HurtDaysAgo
                        || Math.Abs(day - (7 * Weeks - habit.HurtDaysAgo)) < songs.Count && habit.HurtDaysAgo > 0
                            && entries.All(e => e.Hurt != true)));
            }
            await context.SaveChangesAsync();
            context.ChangeTracker.Clear();
        }
        await log.KeepAsync(student.Id, entries, Author.Student, CancellationToken.None);
        await log.KeepAsync(student.Id,
            [new NewEntry
            {
                Kind = "note", At = now.AddDays(-6), Text = LessonNotes[random.Next(LessonNotes.Length)],
                Key = Guid.CreateVersion7()
            }], Author.Teacher, CancellationToken.None);
    }

    private static readonly string[] LessonNotes =
        ["thumb low behind the neck helps", "counts aloud now, keep that", "wrist straight at the small F",
            "looked at the next chord, not at the hand", "swing from the elbow, not the wrist"];

    private static PlayableRung? Next(List<PlayableRung> rungs, PlayableRung rung) =>
        rungs.FirstOrDefault(r => r.Number > rung.Number && !r.SameAsBelow);

    /// <summary>A day: two counts, a shape, the strum, a stretch, and the minutes.</summary>
    private static IEnumerable<NewEntry> Day(SimulatedStudent simulated, Student student, OpenLadder open, PlayableRung rung,
        DateTimeOffset at, Habit habit, Random random, bool hurt)
    {
        var player = student.ToPlayer() with { Skills = simulated.Skills };
        var fit = new VersionFit(VersionOutline.Of(rung, open.Ladder.Chart.Tempo), player);
        string Name(int chord) => rung.Chords[chord].ShapeChord.Name;
        NewEntry Made(NewEntry entry, int minute) =>
            entry with { At = at.AddMinutes(minute), Song = open.Song.Id, Rung = rung.Number, Capo = rung.Capo,
                Key = KeyFrom(random) };
        foreach (var (change, i) in rung.Changes.Select((c, i) => (c, i)).Where(x => x.c.Change.Seconds > 0.1)
            .OrderBy(x => fit.Changes[x.i].InTime).Take(2))
        {
            var count = simulated.Count(at, change.Change.Seconds, 60);
            yield return Made(new NewEntry
            {
                Kind = "changes", Text = $"{Name(change.From)} to {Name(change.To)}", From = Fingered(change.Change.From),
                To = Fingered(change.Change.To), Count = Math.Min(count.Count, EvidenceMaker.MostAMinute), Seconds = 60
            }, 2 + i);
        }
        var shape = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).OrderBy(c => fit.Clean[c.Index]).Take(2)
                .ToList() is var two
            ? two[random.Next(two.Count)]
            : throw new InvalidOperationException("A rung plays something.");
        var tried = simulated.Try(at, shape.Choice.Fingering, 10);
        yield return Made(new NewEntry
        {
            Kind = "shape", Text = $"{shape.ShapeChord.Name} by itself", To = Fingered(shape.Choice.Fingering), Tries = 10,
            Count = tried.Clean
        }, 6);
        var pattern = rung.Hand.Main;
        var tempo = (int)Math.Round(open.Ladder.Chart.Tempo * (0.7 + 0.3 * random.NextDouble()));
        if (!pattern.IsFree)
            yield return Made(new NewEntry
            {
                Kind = "strum", Text = "the strum", Pattern = pattern.Notation, Meter = pattern.Meter.ToString(),
                Swing = pattern.Swing, Tempo = tempo, Went = simulated.Strum(at, pattern.LoadAt(tempo)).Clean == 1
            }, 8);
        var section = open.Ladder.Chart.Sections[random.Next(open.Ladder.Chart.Sections.Count)];
        var ease = (int)Math.Round(Math.Min(open.Ladder.Chart.Tempo,
            (fit.ComfortableTempo ?? VersionOutline.SlowestTempo) * (0.92 + 0.16 * random.NextDouble())));
        yield return Made(new NewEntry
        {
            Kind = "clean", Text = section.Name, Tempo = Math.Max(ease, 30),
            Went = random.NextDouble() < fit.At(Math.Max(ease, 30))
        }, 11);
        yield return Made(new NewEntry
        {
            Kind = "time", Minutes = Math.Max(3, habit.Minutes + random.Next(-4, 6)),
            Felt = Math.Clamp((int)Math.Round(5 - 4 * fit.Value + random.NextDouble() - 0.5), 1, 5), Hurt = hurt
        }, 14);
    }

    private static Skills Grown(Skills skills, double points) =>
        Skills.Each(t => t == Technique.Thumb ? skills.Thumb : Math.Min(96, skills[t] + points));

    private static EntryShape Fingered(Fingering fingering) =>
        new([.. fingering.Shape.Frets], [.. fingering.Fingers.Select(f => (int)f)]);

    private static Guid KeyFrom(Random random)
    {
        var bytes = new byte[16];
        random.NextBytes(bytes);
        return new Guid(bytes);
    }
}
