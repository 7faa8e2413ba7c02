using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace Tembri.Bench;

/// <summary>Teachers and students' phones at work on the studios that bench/town made: each from an address of its own, with
/// time to think, over TLS or not.</summary>
/// <remarks>A save is sent again with its key until it is acknowledged, as Tembri's own pages do; what was acknowledged is
/// written down, so that a script can look for it in the database.</remarks>
internal sealed class Crowd(Uri address, double think, int students = 4, double warm = 0)
{
    /// <summary>One thing somebody did.</summary>
    /// <param name="What">The kind of page or save.</param>
    /// <param name="At">When it was asked for, s since the beginning.</param>
    /// <param name="Took">Until it was there, s; for a save with all its tries.</param>
    /// <param name="Fault">What the user saw instead; null when all was well.</param>
    /// <param name="LongestTry">The longest single request of it, s: what somebody who looks at the page waits for.</param>
    private readonly record struct Deed(string What, double At, double Took, string? Fault, double LongestTry);

    private readonly ConcurrentQueue<Deed> _deeds = [];
    private readonly ConcurrentQueue<string> _acknowledged = [];
    private readonly Stopwatch _clock = new();
    private readonly MachineWatch _machine = new();

    /// <summary>A fault that is made on the way: when, what is run, and how long it may be felt.</summary>
    private sealed record Planned(double At, double Felt, string Command);

    /// <summary>crowd URL TEACHERS PHONES SECONDS [think=5] [students=4 of a teacher] [warm=SECONDS that do not count]
    /// [acks=FILE] [fault=AT:FELT:COMMAND …]</summary>
    public static int Run(string[] args)
    {
        string? Option(string name) =>
            args.FirstOrDefault(a => a.StartsWith(name + "=", StringComparison.Ordinal))?[(name.Length + 1)..];
        double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);
        var crowd = new Crowd(new Uri(args[0]), Number(Option("think") ?? "5"), (int)Number(Option("students") ?? "4"),
            Number(Option("warm") ?? "0"));
        var faults = args.Where(a => a.StartsWith("fault=", StringComparison.Ordinal)).Select(a => a[6..].Split(':', 3))
            .Select(p => new Planned(Number(p[0]), Number(p[1]), p[2])).ToList();
        crowd.WorkAsync((int)Number(args[1]), (int)Number(args[2]), Number(args[3]), faults).GetAwaiter().GetResult();
        if (Option("acks") is { } file) File.WriteAllLines(file, crowd._acknowledged);
        return crowd.Report(faults);
    }

    /// <summary>press URL ladder|desk|today USERS SECONDS: as many pages as there is room for, without time to think.</summary>
    public static int Press(string url, string page, int users, double seconds, bool isAnew)
    {
        var crowd = new Crowd(new Uri(url), 0);
        crowd.PressAsync(page, users, seconds, isAnew).GetAwaiter().GetResult();
        var good = crowd._deeds.Where(d => d.Fault is null).Select(d => d.Took).Order().ToList();
        Console.WriteLine($"{page}: {good.Count / seconds:F0} a second, {crowd._deeds.Count - good.Count} failed, median "
            + $"{At(good, 0.5):F0} ms, p95 {At(good, 0.95):F0} ms");
        return 0;
    }

    private async Task PressAsync(string page, int users, double seconds, bool isAnew)
    {
        var teachers = new List<Visitor>();
        for (var i = 1; i <= users; i++) teachers.Add(await SignedInAsync(i));
        // Once before it counts.
        foreach (var teacher in teachers) await teacher.Client.GetAsync(teacher.Page(page, 1));
        _clock.Start();
        await Task.WhenAll(teachers.Select(async teacher =>
        {
            for (var round = 0; _clock.Elapsed.TotalSeconds < seconds; round++)
            {
                // An address nobody asked for before was not kept.
                var address = teacher.Page(page, 1 + round % 5);
                await LookAsync(page, teacher, isAnew ? $"{address}{(address.Contains('?') ? '&' : '?')}look={round}" : address);
            }
        }));
    }

    private async Task WorkAsync(int teachers, int phones, double seconds, IReadOnlyList<Planned> faults)
    {
        var (ready, begun) = (new ConcurrentBag<Visitor>(), Stopwatch.StartNew());
        // Passwords are dear to check: nobody signs in during what is measured.
        await Parallel.ForEachAsync(Enumerable.Range(1, teachers), new ParallelOptions { MaxDegreeOfParallelism = 4 },
            async (n, _) => ready.Add(await SignedInAsync(n)));
        Console.WriteLine($"{ready.Count} teachers signed in after {begun.Elapsed.TotalSeconds:F0} s");
        _clock.Start();
        using var end = new CancellationTokenSource(TimeSpan.FromSeconds(warm + seconds));
        var watching = _machine.WatchAsync(_clock, end.Token);
        var work = ready.Select(t => TeachAsync(t, end.Token))
            .Concat(Enumerable.Range(1, phones).Select(n => PractiseAsync(n, teachers, end.Token))).ToList();
        foreach (var fault in faults.OrderBy(f => f.At))
        {
            await Task.Delay(TimeSpan.FromSeconds(Math.Max(0, fault.At - _clock.Elapsed.TotalSeconds)));
            Console.WriteLine($"{_clock.Elapsed.TotalSeconds,6:F1} s  {fault.Command}");
            using var shell = Process.Start(new ProcessStartInfo("bash", ["-c", fault.Command]))!;
            await shell.WaitForExitAsync();
        }
        await Task.WhenAll(work);
        await watching;
    }

    /// <summary>Somebody with cookies and an address of her own.</summary>
    private sealed class Visitor(int number, HttpClient client)
    {
        public HttpClient Client => client;
        public int Number => number;
        public string Token { get; set; } = "";
        private Guid Song(int n) => NameOf($"song {number} {n}");
        public Guid Student(int n) => NameOf($"student {number} {n}");

        public string Page(string page, int n) => page switch
        {
            "today" => "/", "desk" => "/songs", "students" => "/students", "ladder" => $"/songs/{Song(n)}/ladder/{Student(n)}",
            "stage" => $"/songs/{Song(n)}/stage/{Student(n)}",
            "log" => $"/students/{Student(n)}/log", "plan" => $"/students/{Student(n)}/practice",
            "chart" => $"/songs/{Song(n)}/chart", "sheet" => $"/songs/{Song(n)}/sheet/{Student(n)}",
            _ => throw new ArgumentException($"no page {page}"),
        };
    }

    private static Guid NameOf(string what) => new(MD5.HashData(Encoding.UTF8.GetBytes("town " + what)), bigEndian: true);

    private static string SecretOf(int studio, int student) =>
        Convert.ToBase64String(MD5.HashData(Encoding.UTF8.GetBytes($"town secret {studio} {student}"))).TrimEnd('=')
            .Replace('+', '-').Replace('/', '_');

    private HttpClient ClientOf(int n)
    {
        var from = new IPAddress([127, (byte)(1 + n / 62_500), (byte)(n / 250 % 250), (byte)(1 + n % 250)]);
        var handler = new SocketsHttpHandler
        {
            AllowAutoRedirect = false, AutomaticDecompression = DecompressionMethods.All,
            CookieContainer = new CookieContainer(), MaxConnectionsPerServer = 4,
            PooledConnectionLifetime = TimeSpan.FromMinutes(2),
            SslOptions = { RemoteCertificateValidationCallback = (_, _, _, _) => true },   // the fleet's certificate is its own
            ConnectCallback = async (context, leaving) =>
            {
                var socket = new Socket(AddressFamily.InterNetwork, SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
                socket.Bind(new IPEndPoint(from, 0));
                await socket.ConnectAsync(IPAddress.Loopback, context.DnsEndPoint.Port, leaving);
                return new NetworkStream(socket, ownsSocket: true);
            },
        };
        return new HttpClient(handler) { BaseAddress = address, Timeout = TimeSpan.FromSeconds(60) };
    }

    private async Task<Visitor> SignedInAsync(int n)
    {
        var visitor = new Visitor(n, ClientOf(n));
        var page = await visitor.Client.GetStringAsync("/account/sign-in");
        const string field = "__RequestVerificationToken\" type=\"hidden\" value=\"";
        var at = page.IndexOf(field, StringComparison.Ordinal) + field.Length;
        using var form = new FormUrlEncodedContent([new("Email", $"teacher-{n}@town.example"), new("Password", "kestrel-lane-9"),
            new("__RequestVerificationToken", page[at..page.IndexOf('"', at)])]);
        using var answer = await visitor.Client.PostAsync("/account/sign-in", form);
        if (answer.StatusCode != HttpStatusCode.Redirect)
            throw new InvalidOperationException($"teacher {n} was not let in: {answer.StatusCode}");
        visitor.Token = (await visitor.Client.GetFromJsonAsync<JsonElement>("/account/token")).GetProperty("token").GetString()!;
        return visitor;
    }

    // What a teacher does in a lesson hour, in parts of a hundred.
    private static readonly (string Page, int Share)[] Mix = [("today", 22), ("ladder", 22), ("desk", 14), ("plan", 8),
        ("log", 6), ("stage", 6), ("students", 5), ("chart", 4), ("sheet", 3), ("save", 10)];

    private async Task TeachAsync(Visitor teacher, CancellationToken end)
    {
        var random = new Random(teacher.Number);
        while (await PauseAsync(random, end))
        {
            var part = random.Next(100);
            var what = Mix.First(m => (part -= m.Share) < 0).Page;
            var n = 1 + random.Next(students);
            if (what != "save") { await LookAsync(what, teacher, teacher.Page(what, n)); continue; }
            var key = Guid.CreateVersion7();
            await SaveAsync("teacher saves", key,
                () => teacher.Client.PostAsync(teacher.Page("log", n), new FormUrlEncodedContent(
                [new("Form.Key", key.ToString()), new("Form.Kind", "note"),
                    new("Form.At", DateTime.UtcNow.ToString("yyyy-MM-ddTHH:mm", CultureInfo.InvariantCulture)),
                    new("Form.Text", $"crowd {key}"), new("__RequestVerificationToken", teacher.Token)])),
                answer => Task.FromResult(answer.StatusCode == HttpStatusCode.Redirect));
        }
    }

    private async Task PractiseAsync(int n, int studios, CancellationToken end)
    {
        var (client, random, secret) = (ClientOf(100_000 + n), new Random(-n), SecretOf(1 + n % studios, 1 + n / studios % 20));
        var phone = new Visitor(n, client);
        while (await PauseAsync(random, end))
        {
            if (random.Next(3) == 0) { await LookAsync("phone", phone, $"/my/{secret}"); continue; }
            var key = Guid.CreateVersion7();
            // A phone that is not sure hands in twice.
            for (var times = random.Next(4) == 0 ? 2 : 1; times > 0; times--)
                await SaveAsync("phone hands in", key,
                    () => client.PostAsJsonAsync($"/my/{secret}/entries",
                        new { sentAt = DateTimeOffset.UtcNow,
                            entries = new[] { new { key, at = DateTimeOffset.UtcNow, kind = "note", text = $"crowd {key}" } } }),
                    async answer => answer.IsSuccessStatusCode
                        && (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("outcomes")[0].GetProperty("kept")
                            .GetBoolean());
        }
    }

    private async Task<bool> PauseAsync(Random random, CancellationToken end)
    {
        try { await Task.Delay(TimeSpan.FromSeconds(-Math.Log(1 - random.NextDouble()) * think), end); }
        catch (OperationCanceledException) { return false; }
        return !end.IsCancellationRequested;
    }

    private async Task LookAsync(string what, Visitor visitor, string path)
    {
        var at = _clock.Elapsed.TotalSeconds;
        string? fault = null;
        try
        {
            using var answer = await visitor.Client.GetAsync(path);
            await answer.Content.ReadAsByteArrayAsync();
            if (answer.StatusCode != HttpStatusCode.OK) fault = $"{(int)answer.StatusCode}";
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
        {
            fault = e.GetType().Name;
        }
        _deeds.Enqueue(new Deed(what, at, _clock.Elapsed.TotalSeconds - at, fault, _clock.Elapsed.TotalSeconds - at));
    }

    private async Task SaveAsync(string what, Guid key, Func<Task<HttpResponseMessage>> send,
        Func<HttpResponseMessage, Task<bool>> isKept)
    {
        var at = _clock.Elapsed.TotalSeconds;
        string? fault = null;
        var longest = 0.0;
        for (var tries = 0; tries < 40; tries++)
        {
            var began = _clock.Elapsed.TotalSeconds;
            try
            {
                using var answer = await send();
                if (await isKept(answer))
                {
                    _acknowledged.Enqueue(key.ToString());
                    fault = null;
                    longest = Math.Max(longest, _clock.Elapsed.TotalSeconds - began);
                    break;
                }
                fault = $"{(int)answer.StatusCode}";
                // Anything else than "later" will not get better.
                if ((int)answer.StatusCode is < 429 or 500) break;
            }
            catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
            {
                fault = e.GetType().Name;
            }
            longest = Math.Max(longest, _clock.Elapsed.TotalSeconds - began);
            await Task.Delay(500);
        }
        _deeds.Enqueue(new Deed(what, at, _clock.Elapsed.TotalSeconds - at, fault, longest));
    }

    private static double At(List<double> sorted, double part) =>
        sorted.Count == 0 ? double.NaN : sorted[(int)Math.Min(sorted.Count - 1, part * sorted.Count)] * 1000;

    private int Report(IReadOnlyList<Planned> faults)
    {
        var all = _deeds.Where(d => d.At >= warm).ToList();
        Console.WriteLine($"{all.Count} deeds in {_clock.Elapsed.TotalSeconds - warm:F0} s, "
            + $"{all.Count / (_clock.Elapsed.TotalSeconds - warm):F0} a second; {_acknowledged.Count} saves acknowledged");
        foreach (var kind in all.GroupBy(d => d.What).OrderBy(g => g.Key))
        {
            var times = kind.Where(d => d.Fault is null).Select(d => d.Took).Order().ToList();
            Console.WriteLine($"  {kind.Key,-15} {kind.Count(),6}  median {At(times, 0.5),5:F0}  p95 {At(times, 0.95),5:F0}  "
                + $"p99 {At(times, 0.99),5:F0}  most {At(times, 1),6:F0} ms  failed {kind.Count(d => d.Fault is not null)}");
        }
        var pages = all.Where(d => d.Fault is null && !d.What.Contains(' ', StringComparison.Ordinal)).Select(d => d.Took)
            .Order().ToList();
        Console.WriteLine($"  all pages       p95 {At(pages, 0.95):F0} ms");
        bool Inside(Deed d, Planned f) => d.At + d.Took >= f.At && d.At <= f.At + f.Felt;
        foreach (var fault in faults)
        {
            var felt = all.Where(d => Inside(d, fault)).ToList();
            Console.WriteLine($"  {fault.At:F0} to {fault.At + fault.Felt:F0} s: longest wait for an answer "
                + $"{(felt.Count == 0 ? 0 : felt.Max(d => d.LongestTry)):F1} s, for a save with all its tries "
                + $"{felt.Where(d => d.What.Contains(' ', StringComparison.Ordinal)).Select(d => d.Took).DefaultIfEmpty().Max():F1} "
                + $"s, {felt.Count(d => d.LongestTry > 1)} waited over 1 s, {felt.Count(d => d.Fault is not null)} of "
                + $"{felt.Count} failed ({string.Join(", ", felt.Where(d => d.Fault is not null).GroupBy(d => d.Fault).Select(g => $"{g.Count()} × {g.Key}"))}) "
                + $"  [{fault.Command}]");
        }
        var outside = all.Where(d => !faults.Any(f => Inside(d, f))).ToList();
        Console.WriteLine($"  outside these: longest wait {(outside.Count == 0 ? 0 : outside.Max(d => d.LongestTry)):F1} s, "
            + $"{outside.Count(d => d.LongestTry > 1)} waited over 1 s, {outside.Count(d => d.Fault is not null)} of "
            + $"{outside.Count} failed "
            + $"({string.Join(", ", outside.Where(d => d.Fault is not null).GroupBy(d => $"{d.What} {d.Fault}").Select(g => $"{g.Count()} × {g.Key}"))})");
        foreach (var slow in outside.Where(d => d.LongestTry > 1).OrderByDescending(d => d.LongestTry).Take(20))
            Console.WriteLine($"    {slow.What} begun at {slow.At:F1} s, {slow.LongestTry:F1} s; {_machine.Said(slow.At, slow.At + slow.Took)}");
        return 0;
    }
}
