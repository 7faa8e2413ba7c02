using System.IO.Compression;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Lessons;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Songs;

namespace Tembri.Web.Archive;

/// <summary>A studio as one open archive: chart texts, everything else as JSON, logbooks as tables beside it. What is brought
/// back and taken out again has the same content, byte for byte.</summary>
/// <remarks>What can be made again from the rest, such as arrangements, is not in it, nor are secrets: links, keys and
/// passwords.</remarks>
internal sealed class StudioArchive(TembriDbContext context, ArrangingOrders orders)
{
    /// <summary>Version of the form of the archive.</summary>
    public const int Form = 1;

    /// <summary>The largest archive that is read, packed.</summary>
    public const long LargestFile = 60_000_000;

    private const long LargestUnpacked = 400_000_000;
    private const int MostRows = 400_000;

    // What belongs to the database alone; the rest of a row is its content.
    private static readonly HashSet<string> Inner =
        ["studioId", "version", "requestKey", "progress", "hurts", "stamp", "students", "changes", "chartText"];

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true, NewLine = "\n", Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        MaxDepth = 32,
        TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { WithoutInner } },
    };

    private static void WithoutInner(JsonTypeInfo type)
    {
        if (!typeof(IStudioOwned).IsAssignableFrom(type.Type)) return;
        for (var i = type.Properties.Count - 1; i >= 0; i--)
            if (Inner.Contains(type.Properties[i].Name)
                && !(type.Type == typeof(HandVersion) && type.Properties[i].Name == "chartText")
                && !(type.Type == typeof(SongRevision) && type.Properties[i].Name == "chartText")
                && !(type.Type == typeof(PracticeEntry) && type.Properties[i].Name == "requestKey")
                || type.Properties[i].Set is null)
                    type.Properties.RemoveAt(i);
    }

    private sealed record Head(int Form, string Name, Core.Music.NoteNames NoteNames, bool FretsFromNut, int[] Tunings,
        string Wishes, string Sheets, int? KeepsMonths, string? Only = null);

    private const string OnlySet = "set";

    /// <summary>What came of bringing an archive, a line a kind of row.</summary>
    public sealed record Brought(IReadOnlyList<string> Said);

    /// <summary>Takes the studio out.</summary>
    public async Task<byte[]> WriteAsync(CancellationToken leaving)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            var studio = await context.Studios.AsNoTracking().SingleAsync(s => s.Id == context.CurrentStudioId, leaving);
            await PutAsync(zip, "studio.json",
                new Head(Form, studio.Name, studio.NoteNames, studio.FretsFromNut, studio.Tunings, studio.Wishes, studio.Sheets,
                    studio.KeepsMonths), leaving);
            foreach (var song in await context.Songs.AsNoTracking().OrderBy(s => s.Id).ToListAsync(leaving))
                await PutTextAsync(zip, $"songs/{song.Id}.txt", song.ChartText, leaving);
            await RowsAsync<Song>(zip, "songs", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<SongRevision>(zip, "song-history", q => q.OrderBy(r => r.SongId).ThenBy(r => r.Number), leaving);
            await RowsAsync<SongHearing>(zip, "records-heard", q => q.OrderBy(r => r.SongId), leaving);
            await RowsAsync<StudioGuitar>(zip, "guitars", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<Student>(zip, "students", q => q.IgnoreAutoIncludes().OrderBy(r => r.Id), leaving);
            await RowsAsync<StudentProgress>(zip, "progress", q => q.OrderBy(r => r.StudentId), leaving);
            await RowsAsync<LadderChoice>(zip, "ladders", q => q.OrderBy(r => r.SongId).ThenBy(r => r.StudentId), leaving);
            await RowsAsync<LockedShape>(zip, "taken-shapes", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<LadderState>(zip, "ladder-steps",
                q => q.OrderBy(r => r.SongId).ThenBy(r => r.StudentId).ThenBy(r => r.Number), leaving);
            await RowsAsync<HandVersion>(zip, "versions-by-hand", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<SongWork>(zip, "worked-on", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<PracticeEntry>(zip, "entries", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<Lesson>(zip, "lessons", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<LessonStudent>(zip, "lesson-students", q => q.OrderBy(r => r.LessonId).ThenBy(r => r.StudentId),
                leaving);
            await RowsAsync<LessonException>(zip, "lesson-changes", q => q.OrderBy(r => r.LessonId).ThenBy(r => r.On), leaving);
            await RowsAsync<Holiday>(zip, "free-days", q => q.OrderBy(r => r.Id), leaving);
            await RowsAsync<SongSet>(zip, "sets", q => q.OrderBy(r => r.Id), leaving);
            await LogsAsync(zip, leaving);
            await PutTextAsync(zip, "README.txt", """
                A studio of Tembri, taken out. Everything here is open: texts in UTF-8, JSON, and tables (CSV).
                songs/*.txt are the charts; the JSON files hold all other rows; logs/*.csv are the logbooks for reading.
                Bring the archive back under Studio, Data. What is there already stays as it is.
                No secrets are in it: links of students, keys of programs and passwords have to be made anew.
                Whoever has this file can read what is kept of your students. Keep it as carefully as you keep them.
                """, leaving);
        }
        return stream.ToArray();
    }

    /// <summary>Takes one set out with its songs, for another teacher: in the same form, without students and settings. Null
    /// when there is no such set.</summary>
    public async Task<(byte[] File, string Name)?> WriteSetAsync(Guid id, CancellationToken leaving)
    {
        if (await context.SongSets.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, leaving) is not { } set) return null;
        var wanted = set.Read().Select(s => s.Song).ToList();
        var songs = await context.Songs.AsNoTracking().Where(s => wanted.Contains(s.Id)).OrderBy(s => s.Id).ToListAsync(leaving);
        set.StudentId = null;
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            await PutAsync(zip, "studio.json", new Head(Form, "", Core.Music.NoteNames.AsKey, false, [], "", "", null, OnlySet),
                leaving);
            foreach (var song in songs) await PutTextAsync(zip, $"songs/{song.Id}.txt", song.ChartText, leaving);
            await PutAsync(zip, "songs.json", songs, leaving);
            await PutAsync(zip, "sets.json", new[] { set }, leaving);
        }
        return (stream.ToArray(), set.Name);
    }

    private async Task RowsAsync<T>(ZipArchive zip, string name, Func<IQueryable<T>, IQueryable<T>> order,
        CancellationToken leaving) where T : class, IStudioOwned =>
        await PutAsync(zip, $"{name}.json", await order(context.Set<T>().AsNoTracking()).ToListAsync(leaving), leaving);

    private async Task LogsAsync(ZipArchive zip, CancellationToken leaving)
    {
        var entries = (await context.PracticeEntries.AsNoTracking().Where(e => e.EndedAt == null).OrderBy(e => e.At)
                .ThenBy(e => e.Id).ToListAsync(leaving)).ToLookup(e => e.StudentId);
        var titles = await context.Songs.Select(s => new { s.Id, s.Title }).ToDictionaryAsync(s => s.Id, s => s.Title, leaving);
        foreach (var student in await context.Students.Select(s => s.Id).OrderBy(s => s).ToListAsync(leaving))
        {
            if (!entries[student].Any()) continue;
            await using var entry = zip.CreateEntry($"logs/{student}.csv").Open();
            await entry.WriteAsync(LogTable.Write(entries[student], titles), leaving);
        }
    }

    private static async Task PutAsync<T>(ZipArchive zip, string name, T what, CancellationToken leaving)
    {
        await using var entry = zip.CreateEntry(name).Open();
        await JsonSerializer.SerializeAsync(entry, what, Json, leaving);
    }

    private static async Task PutTextAsync(ZipArchive zip, string name, string text, CancellationToken leaving)
    {
        await using var writer = new StreamWriter(zip.CreateEntry(name).Open(), new System.Text.UTF8Encoding(false));
        await writer.WriteAsync(text.AsMemory(), leaving);
    }

    /// <summary>Brings an archive into the studio: rows that are not there are added, none is changed. All of it or
    /// nothing.</summary>
    /// <exception cref="FormatException">It is no archive of a studio, or does not hold together; the message says what to
    /// do.</exception>
    public async Task<Brought> ReadAsync(Stream file, CancellationToken leaving)
    {
        try
        {
            using var zip = new ZipArchive(file, ZipArchiveMode.Read);
            if (zip.Entries.Sum(e => e.Length) > LargestUnpacked || zip.Entries.Count > MostRows)
                throw new FormatException("This archive is too large to be read.");
            var head = await GetAsync<Head>(zip, "studio.json", leaving)
                ?? throw new FormatException("This is no archive of a studio: studio.json is missing.");
            if (head.Form != Form)
                throw new FormatException($"This archive has the form {head.Form}; this Tembri reads form {Form}. Use the "
                    + "Tembri it was made with, or a newer one.");
            var said = new List<string>();
            context.MayTakeLong();
            await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
            {
                said.Clear();
                context.ChangeTracker.Clear();
                await using var transaction = await context.Database.BeginTransactionAsync(leaving);
                await BringAsync(zip, head, said, leaving);
                await transaction.CommitAsync(leaving);
            });
            await orders.OrderAllAsync(leaving);
            return new Brought(said);
        }
        catch (Exception e) when (e is InvalidDataException or ArgumentException or NotSupportedException)
        {
            throw new FormatException(
                "This file is no zip archive, or it is damaged. Take the studio out again, and bring that file.");
        }
        catch (JsonException e)
        {
            throw new FormatException($"The archive cannot be read at {e.Path}. Bring it as it was taken out.");
        }
        catch (DbUpdateException e) when (e.InnerException is PostgresException p)
        {
            throw new FormatException(
                $"The archive does not hold together ({p.TableName}); nothing was brought. Bring it as it was taken out.");
        }
        finally { context.ChangeTracker.Clear(); }
    }

    private async Task BringAsync(ZipArchive zip, Head head, List<string> said, CancellationToken leaving)
    {
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId, leaving);
        var isEmpty = !await context.Songs.AnyAsync(leaving) && !await context.Students.AnyAsync(leaving);
        if (head.Only is not null) said.Add("Settings: there are none in it.");
        else if (isEmpty)
        {
            (studio.NoteNames, studio.FretsFromNut, studio.Wishes, studio.Sheets, studio.KeepsMonths) =
                (head.NoteNames, head.FretsFromNut, head.Wishes ?? "", head.Sheets ?? "", head.KeepsMonths);
            if (PlainText.OneLine(head.Name ?? "") is { Length: > 0 } name) studio.Name = PlainText.Cut(name, 80);
            if (head.Tunings is { Length: > 0 and < 20 }) studio.Tunings = head.Tunings;
            said.Add("Settings: taken.");
        }
        else said.Add("Settings: left as they are, since the studio is not empty.");
        await AddAsync<StudioGuitar, Guid>(zip, "guitars", "guitars", r => r.Id, said, leaving);
        var texts = new Dictionary<Guid, string>();
        await AddAsync<Song, Guid>(zip, "songs", "songs", r => r.Id, said, leaving, async song =>
        {
            var text = await TextAsync(zip, $"songs/{song.Id}.txt", leaving)
                ?? throw new FormatException($"The chart songs/{song.Id}.txt is missing.");
            if (text.Length > ChartLimits.LongestText)
                throw new FormatException($"The chart songs/{song.Id}.txt is longer than a chart may be.");
            // What the list shows is read off the text again, whatever the file says; when it was changed stays.
            var at = song.ChangedAt;
            SongText.Apply(song, text, at);
        });
        await AddAsync<SongRevision, (Guid, int)>(zip, "song-history", "earlier charts", r => (r.SongId, r.Number), said,
            leaving);
        await AddAsync<SongHearing, Guid>(zip, "records-heard", "recordings heard", r => r.SongId, said, leaving);
        await AddAsync<Student, Guid>(zip, "students", "students", r => r.Id, said, leaving, student =>
        {
            try
            {
                _ = student.ToPlayer();
            } catch (KeyNotFoundException)
            {
                throw new FormatException($"The hand or the guitar of {student.Nickname} is not known.");
            }
            if (student.Skills.FirstOutOfRange() is { } wrong)
                throw new FormatException($"The skill {wrong} of {student.Nickname} is no number from 0 to 100.");
            return Task.CompletedTask;
        });
        await AddAsync<StudentProgress, Guid>(zip, "progress", "what practice taught", r => r.StudentId, said, leaving);
        await AddAsync<LadderChoice, (Guid, Guid)>(zip, "ladders", "decisions on ladders", r => (r.SongId, r.StudentId), said,
            leaving);
        await AddAsync<LockedShape, Guid>(zip, "taken-shapes", "shapes taken", r => r.Id, said, leaving);
        await AddAsync<LadderState, (Guid, Guid, int)>(zip, "ladder-steps", "steps on ladders",
            r => (r.SongId, r.StudentId, r.Number), said, leaving);
        await AddAsync<HandVersion, Guid>(zip, "versions-by-hand", "versions by hand", r => r.Id, said, leaving);
        await AddAsync<SongWork, Guid>(zip, "worked-on", "songs worked on", r => r.Id, said, leaving);
        await AddAsync<PracticeEntry, Guid>(zip, "entries", "entries of practice", r => r.Id, said, leaving);
        await AddAsync<Lesson, Guid>(zip, "lessons", "lessons", r => r.Id, said, leaving);
        await AddAsync<LessonStudent, (Guid, Guid)>(zip, "lesson-students", "who has lessons", r => (r.LessonId, r.StudentId),
            said, leaving);
        await AddAsync<LessonException, (Guid, DateOnly)>(zip, "lesson-changes", "lessons moved or not held",
            r => (r.LessonId, r.On), said, leaving);
        await AddAsync<Holiday, Guid>(zip, "free-days", "free days", r => r.Id, said, leaving);
        await AddAsync<SongSet, Guid>(zip, "sets", "sets", r => r.Id, said, leaving);
        await context.SaveChangesAsync(leaving);
    }

    private async Task AddAsync<T,
        TKey>(ZipArchive zip, string name, string what, Func<T, TKey> key, List<string> said, CancellationToken leaving,
            Func<T, Task>? check = null) where T : class, IStudioOwned where TKey : notnull
    {
        var rows = await GetAsync<List<T>>(zip, $"{name}.json", leaving) ?? [];
        if (rows.Count > MostRows) throw new FormatException($"{name}.json has more rows than are read.");
        var there = (await context.Set<T>().AsNoTracking().IgnoreAutoIncludes().ToListAsync(leaving)).Select(key).ToHashSet();
        var (taken, left) = (0, 0);
        foreach (var row in rows)
        {
            if (row is null || !there.Add(key(row))) { left++; continue; }
            if (check is not null) await check(row);
            context.AddOwned(row);
            taken++;
        }
        await context.SaveChangesAsync(leaving);
        context.ChangeTracker.Clear();
        if (rows.Count > 0)
            said.Add($"{char.ToUpperInvariant(what[0])}{what[1..]}: {taken} "
                + $"taken{(left > 0 ? $", {left} were there already" : "")}.");
    }

    private static async Task<T?> GetAsync<T>(ZipArchive zip, string name, CancellationToken leaving)
    {
        if (zip.GetEntry(name) is not { } entry) return default;
        await using var stream = entry.Open();
        return await JsonSerializer.DeserializeAsync<T>(stream, Json, leaving);
    }

    private static async Task<string?> TextAsync(ZipArchive zip, string name, CancellationToken leaving)
    {
        if (zip.GetEntry(name) is not { } entry) return null;
        using var reader = new StreamReader(entry.Open());
        return await reader.ReadToEndAsync(leaving);
    }
}
