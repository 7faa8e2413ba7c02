using System.IO.Compression;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>Everything that is kept about one student, in open formats: one archive with JSON and tables.</summary>
internal sealed class StudentExport(TembriDbContext context, TimeProvider clock)
{
    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <summary>Makes the archive; null when there is no such student.</summary>
    public async Task<byte[]?> MakeAsync(Guid id, CancellationToken cancel)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, cancel) is not { } student) return null;
        var titles = await context.Songs.AsNoTracking().ToDictionaryAsync(s => s.Id, s => s.Title, cancel);
        string Title(Guid song) => titles.GetValueOrDefault(song, "a song that is gone");
        var entries = await context.PracticeEntries.AsNoTracking().Where(e => e.StudentId == id).OrderBy(e => e.At)
            .ThenBy(e => e.Id).ToListAsync(cancel);
        using var bytes = new MemoryStream();
        using (var archive = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Add(string name, byte[] content)
            {
                using var stream = archive.CreateEntry(name, CompressionLevel.Optimal).Open();
                stream.Write(content);
            }
            void AddJson(string name, object what) => Add(name, JsonSerializer.SerializeToUtf8Bytes(what, Written));
            AddJson("student.json", new
            {
                exportedAt = clock.GetUtcNow(), student.Nickname, hand = student.HandId, student.SpreadMm,
                guitar = student.GuitarId, guitarMeasures = Document(student.GuitarMeasures), student.GuitarStrings,
                student.LeftHanded, student.Thumb, student.Barres,
                guessedSkills = student.Skills, student.GuessedAt, student.UsesPractice,
                learnt = Document(student.Progress?.Learnt), student.AgeGroup, student.MinutesADay, student.SingsAlong,
                goalSong = student.GoalSongId is { } goal ? Title(goal) : null, student.GoalRung, student.GoalOn, student.Tags,
                wishes = Document(student.Wishes), planWishes = Document(student.Progress?.PlanWishes),
                student.Progress?.HurtAt, student.Progress?.PainClearedAt, student.ChangedAt,
            });
            Add("practice.csv", LogTable.Write(entries.Where(e => e.EndedAt is null), titles));
            Add("practice-taken-back.csv", LogTable.Write(entries.Where(e => e.EndedAt is not null), titles));
            AddJson("songs.json",
                (await context.SongWorks.AsNoTracking().Where(w => w.StudentId == id).OrderBy(w => w.StartedAt)
                        .ToListAsync(cancel))
                    .Select(w => new { song = Title(w.SongId), w.Rung, w.StartedAt, w.EndedAt, w.Why }));
            AddJson("ladders.json", new
            {
                choices = (await context.LadderChoices.AsNoTracking().Where(c => c.StudentId == id).ToListAsync(cancel))
                    .Select(c => new { song = Title(c.SongId), c.Aim, c.Accompaniment, c.Capo, c.Tuning, c.Strings,
                        wishes = Document(c.Wishes) }),
                locked = (await context.LockedShapes.AsNoTracking().Where(l => l.StudentId == id).ToListAsync(cancel))
                    .Select(l => new { song = Title(l.SongId), l.Rung, l.Chord, l.Frets, l.Fingers, l.Capo, l.Strings }),
                byHand = (await context.HandVersions.AsNoTracking().Where(v => v.StudentId == id).ToListAsync(cancel))
                    .Select(v =>
                        new { song = Title(v.SongId), v.Name, v.Capo, v.ChartText, shapes = Document(v.Shapes), v.ChangedAt }),
            });
            AddJson("link.json",
                (await context.StudentLinks.AsNoTracking().Where(l => l.StudioId == student.StudioId && l.StudentId == id)
                        .OrderBy(l => l.CreatedAt).ToListAsync(cancel))
                    .Select(l => new { l.CreatedAt, l.EndsAt, l.RevokedAt, l.SeenAt }));
            AddJson("seen.json",
                (await context.StudentSights.AsNoTracking().Where(s => s.StudentId == id).OrderBy(s => s.Day)
                        .ToListAsync(cancel)).Select(s => new { s.Day, s.Who, s.What }));
        }
        return bytes.ToArray();
    }

    /// <summary>A stored document as JSON within JSON; null when it is empty.</summary>
    private static JsonElement? Document(string? json)
    {
        if (string.IsNullOrEmpty(json)) return null;
        try { return JsonDocument.Parse(json).RootElement.Clone(); }
        catch (JsonException) { return JsonSerializer.SerializeToElement(json); }
    }
}
