using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Lessons;
using Tembri.Data.Students;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;
using Tembri.Web.Accounts;
using Tembri.Web.Ladders;
using Tembri.Web.Songs;

namespace Tembri.Web.Setup;

/// <summary>Loads the demo studio from the files under <c>demo/</c>, once, through the same readers a teacher uses.</summary>
internal sealed class DemoStudio(
    TembriDbContext context, UserManager<Teacher> users, AccountDoor door, ICurrentStudio currentStudio, ArrangingOrders orders,
    DemoPractice practice, TimeProvider clock)
{
    public const string Email = "mira@kestrel.example";
    public const string Password = "kestrel-lane-9";

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    private sealed record StudentFile(string Nickname, string Hand, string Guitar, bool Thumb, bool LeftHanded, BarreGoal Barres,
        Skills Skills);

    private sealed record HabitFile(IReadOnlyList<string> Songs, int DaysAWeek, int Minutes, double GrowthADay, int SilentDays,
        int HurtDaysAgo, bool Child, bool Sings);

    private sealed record LessonFile(DayOfWeek Day, TimeOnly At, int Minutes, IReadOnlyList<string> Students);

    private sealed record SetFile(string Name, IReadOnlyList<string> Songs, string? Student);

    private sealed record StudioFile(string Name, IReadOnlyList<StudentFile> Students,
        IReadOnlyDictionary<string, HabitFile> Practice,
        IReadOnlyList<LessonFile> Lessons, IReadOnlyList<SetFile> Sets);

    /// <summary>True when the demo studio is in the database.</summary>
    public Task<bool> IsLoadedAsync() => context.Studios.AnyAsync(s => s.IsDemo);

    /// <summary>The demo's teacher; null when the demo is not loaded.</summary>
    public Task<Teacher?> TeacherAsync() => context.Users.FirstOrDefaultAsync(t => t.Studio!.IsDemo);

    /// <summary>True for the demo's teacher, whose account all visitors share.</summary>
    public Task<bool> IsDemoAsync(Teacher teacher) => context.Studios.AnyAsync(s => s.Id == teacher.StudioId && s.IsDemo);

    /// <summary>Loads the demo studio unless it is there already.</summary>
    public async Task LoadAsync(string folder)
    {
        if (await IsLoadedAsync()) return;
        var file =
            JsonSerializer.Deserialize<StudioFile>(await File.ReadAllTextAsync(Path.Combine(folder, "studio.json")), Options)
            ?? throw new InvalidOperationException("demo/studio.json is empty.");
        var studio = new Studio { Name = file.Name, IsDemo = true, FirstHourDone = true, CreatedAt = clock.GetUtcNow() };
        await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
        {
            await using var transaction = await context.Database.BeginTransactionAsync();
            context.Studios.Add(studio);
            await context.SaveChangesAsync();
            var created = await users.CreateAsync(door.New(Email, studio.Id), Password);
            if (!created.Succeeded)
                throw new InvalidOperationException(string.Join(" ", created.Errors.Select(e => e.Description)));
            ((SignedInStudio)currentStudio).Override = studio.Id;
            await context.EnterStudioAsync();
            foreach (var s in file.Students)
                context.AddOwned(new Student
                {
                    Nickname = s.Nickname, HandId = s.Hand, GuitarId = s.Guitar, Thumb = s.Thumb, LeftHanded = s.LeftHanded,
                    Barres = s.Barres, Skills = s.Skills, ChangedAt = clock.GetUtcNow(),
                });
            foreach (var path in Directory.EnumerateFiles(Path.Combine(folder, "songs"), "*.txt").Order(StringComparer.Ordinal))
            {
                var song = SongText.New();
                SongText.Apply(song, await File.ReadAllTextAsync(path), clock.GetUtcNow());
                context.AddOwned(song);
            }
            await context.SaveChangesAsync();
            await AddCalendarAsync(file);
            await transaction.CommitAsync();
        });
        await practice.MakeAsync(file.Practice.ToDictionary(p => p.Key, p => new DemoPractice.Habit(
            p.Value.Songs, p.Value.DaysAWeek, p.Value.Minutes, p.Value.GrowthADay, p.Value.SilentDays, p.Value.HurtDaysAgo,
            p.Value.Child, p.Value.Sings)));
        await orders.OrderAllAsync(CancellationToken.None);
    }

    /// <summary>Lessons and sets.</summary>
    private async Task AddCalendarAsync(StudioFile file)
    {
        var students = await context.Students.AsNoTracking().ToDictionaryAsync(s => s.Nickname, s => s.Id);
        var songs = await context.Songs.AsNoTracking().ToDictionaryAsync(s => s.Title, s => s.Id);
        var today = DateOnly.FromDateTime(clock.GetLocalNow().Date);
        foreach (var lesson in file.Lessons)
        {
            // Lessons began six weeks ago, as the practice did.
            var first = today.AddDays(-42);
            var row = new Lesson
            {
                Day = first.AddDays(((int)lesson.Day - (int)first.DayOfWeek + 7) % 7), At = lesson.At, Minutes = lesson.Minutes,
                EveryWeeks = 1
            };
            context.AddOwned(row);
            row.Students = [.. lesson.Students.Select(
                s => new LessonStudent { StudioId = row.StudioId, LessonId = row.Id, StudentId = students[s] })];
        }
        foreach (var set in file.Sets)
        {
            var row = new SongSet
            {
                Name = set.Name, StudentId = set.Student is { } who ? students[who] : null, ChangedAt = clock.GetUtcNow()
            };
            row.Write(set.Songs.Select(s => new SetSong(songs[s])));
            context.AddOwned(row);
        }
        await context.SaveChangesAsync();
    }
}
