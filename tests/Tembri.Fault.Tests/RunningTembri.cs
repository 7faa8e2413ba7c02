using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Text.Json;
using AngleSharp.Html.Parser;

namespace Tembri.Fault.Tests;

/// <summary>The application as a process of its own, which may be killed.</summary>
public sealed class RunningTembri : IDisposable
{
    private readonly Process _process;

    public RunningTembri(string connection, int? port = null)
    {
        Port = port ?? OwnDatabase.FreePort();
        var web = Path.Combine(OwnDatabase.Folder, "src", "Tembri.Web");
        var configuration = AppContext.BaseDirectory.Contains(
                $"{Path.DirectorySeparatorChar}Release{Path.DirectorySeparatorChar}", StringComparison.Ordinal)
            ? "Release"
            : "Debug";
        var start = new ProcessStartInfo("dotnet",
            [Path.Combine(web, "bin", configuration, "net10.0", "Tembri.Web.dll"), "--urls", Address])
        {
            RedirectStandardOutput = true, RedirectStandardError = true, UseShellExecute = false
        };
        foreach (var (name, value) in new[]
        {
            ("TEMBRI_DATABASE", connection), ("ASPNETCORE_CONTENTROOT", web), ("ASPNETCORE_ENVIRONMENT", "Production"),
            ("RateLimits__SignInsPerMinute", "10000"), ("WarmUp", "false"), ("Compute__PageSeconds", "90")
        })
            start.Environment[name] = value;
        _process = Process.Start(start)!;
        _process.OutputDataReceived += (_, line) => { if (line.Data is not null) Log.Enqueue(line.Data); };
        _process.ErrorDataReceived += (_, line) => { if (line.Data is not null) Log.Enqueue(line.Data); };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
    }

    public int Port { get; }

    public string Address => $"http://127.0.0.1:{Port}";

    public ConcurrentQueue<string> Log { get; } = [];

    public bool HasExited => _process.HasExited;

    /// <summary>Waits until it answers. How quickly it does is measured in bench/; here it may share two cores with every other
    /// test of ./test, and an instance that waits for another's migrations starts only after it.</summary>
    public async Task<RunningTembri> ReadyAsync()
    {
        using var client = new HttpClient { Timeout = TimeSpan.FromSeconds(3) };
        for (var since = Stopwatch.StartNew(); since.Elapsed < TimeSpan.FromMinutes(3);)
        {
            if (_process.HasExited) throw new InvalidOperationException("Tembri ended: " + string.Join('\n', Log));
            try { if ((await client.GetAsync($"{Address}/health")).IsSuccessStatusCode) return this; }
            catch (Exception e) when (e is HttpRequestException or TaskCanceledException) { }
            await Task.Delay(100);
        }
        throw new InvalidOperationException("Tembri does not answer: " + string.Join('\n', Log));
    }

    public void Kill()
    {
        _process.Kill();
        _process.WaitForExit();
    }

    public void Dispose()
    {
        if (!_process.HasExited) Kill();
        _process.Dispose();
    }
}

/// <summary>A teacher who writes: cookies, forms and the saving of charts as the page's script does it.</summary>
public sealed class Writer : IDisposable
{
    private readonly HttpClient _client;
    private readonly string _address;

    public Writer(string address)
    {
        _address = address;
        _client = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false, UseCookies = true })
        {
            BaseAddress = new Uri(address), Timeout = TimeSpan.FromSeconds(15)
        };
    }

    public string Email { get; } = $"{Guid.NewGuid():N}@studio.example";

    public HttpClient Client => _client;

    public async Task<Dictionary<string, string>> FieldsAsync(string page)
    {
        var document = new HtmlParser().ParseDocument(await _client.GetStringAsync(page));
        return document.QuerySelectorAll("input[type=hidden]").DistinctBy(i => i.GetAttribute("name"))
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
    }

    public async Task<HttpResponseMessage> PostAsync(string address, Dictionary<string, string> fields)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, address) { Content = new FormUrlEncodedContent(fields) };
        return await _client.SendAsync(request);
    }

    public async Task OpenStudioAsync()
    {
        var fields = await FieldsAsync("/account/open");
        (fields["StudioName"], fields["Email"], fields["Password"]) = ("Faults", Email, "quiet-blue-door");
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/account/open", fields)).StatusCode);
    }

    public async Task<string> NewSongAsync(string text)
    {
        var fields = await FieldsAsync("/songs/new");
        fields["Text"] = text;
        var answer = await PostAsync("/songs/new", fields);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return answer.Headers.Location!.ToString().Split('/')[2];
    }

    /// <summary>Saves as the script does: the version when it is acknowledged, null when it is not.</summary>
    public async Task<uint?> KeepAsync(string song, Dictionary<string, string> fields, string text)
    {
        fields["Text"] = text;
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/songs/{song}/chart?handler=Keep")
        {
            Content = new FormUrlEncodedContent(fields)
        };
        request.Headers.Add("X-Tembri", "script");
        try
        {
            var answer = await _client.SendAsync(request);
            if (answer.StatusCode != HttpStatusCode.OK) return null;
            return JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("version").GetUInt32();
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException) { return null; }
    }

    public async Task<string> TextAsync(string song) =>
        new HtmlParser().ParseDocument(await _client.GetStringAsync($"/songs/{song}/chart"))
                .QuerySelector("textarea")!.TextContent.TrimStart('\n');

    public void Dispose() => _client.Dispose();

    public override string ToString() => _address;
}
