using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;
using Tembri.Web.Tests;
using TestServer = Tembri.Web.Tests.TestServer;

[assembly: AssemblyFixture(typeof(Tembri.Browser.Tests.BrowserHost))]

namespace Tembri.Browser.Tests;

/// <summary>The application on a real loopback port, on a database of its own, for a real browser.</summary>
public sealed class BrowserHost : WebApplicationFactory<Program>, IAsyncLifetime
{
    private readonly string _database = $"tembri_browser_{Guid.NewGuid():N}";

    private static string DatabaseServer => Environment.GetEnvironmentVariable("TEMBRI_TEST_SERVER") ?? TestServer.OfStart();

    public string Address => ClientOptions.BaseAddress.ToString().TrimEnd('/');

    public static string Folder { get; } = Find(AppContext.BaseDirectory);

    public async ValueTask InitializeAsync()
    {
        await Administer($"create database {_database}");
        UseKestrel(0);
        StartServer();
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        NpgsqlConnection.ClearAllPools();
        await Administer($"drop database {_database} with (force)");
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        Environment.SetEnvironmentVariable("TEMBRI_DATABASE", null);
        builder.UseSetting("ConnectionStrings:Tembri", $"{DatabaseServer};Database={_database}");
        foreach (var lane in (string[])["Api", "Page", "Hearing"]) builder.UseSetting($"Compute:{lane}Seconds", "90");
        builder.UseSetting("Serilog:MinimumLevel:Default", "Warning");
        builder.UseSetting("Database:WatchContexts", "true");
        builder.UseEnvironment("Production");
        builder.ConfigureTestServices(services => services.Configure<PasswordHasherOptions>(LightPasswords.Use));
    }

    // The engine without the browser around it, which nobody sees here: a third less work. (The program itself: the script of
    // that name in the usual place stands between, and ending the script would leave the program.)
    private const string Shell = "/usr/lib/chromium/chromium-headless-shell";

    /// <summary>Waits, and looks ten times a second instead of twice; also when what it looked at is replaced
    /// meanwhile.</summary>
    public static WebDriverWait WaitOf(ChromeDriver browser, int seconds)
    {
        WebDriverWait wait = new(browser, TimeSpan.FromSeconds(seconds)) { PollingInterval = TimeSpan.FromMilliseconds(100) };
        // While a page gives way to the next, what is waited for is old, or fewer than are asked for.
        wait.IgnoreExceptionTypes(typeof(OpenQA.Selenium.StaleElementReferenceException), typeof(ArgumentOutOfRangeException));
        return wait;
    }

    /// <summary>A new headless browser.</summary>
    /// <param name="more">What it is started with besides.</param>
    public static ChromeDriver OpenBrowser(params string[] more)
    {
        var options = new ChromeOptions { BinaryLocation = File.Exists(Shell) ? Shell : "/usr/bin/chromium" };
        options.AddArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--hide-scrollbars",
            "--force-device-scale-factor=1", "--window-size=1280,800",
            "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-extensions");
        options.AddArguments(more);
        options.SetLoggingPreference(OpenQA.Selenium.LogType.Browser, OpenQA.Selenium.LogLevel.Warning);
        var browser = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options,
            commandTimeout: TimeSpan.FromSeconds(180));
        // Listening through half a minute of sound takes longer than that where all other tests run beside it.
        browser.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(150);
        return browser;
    }

    private static async Task Administer(string sql)
    {
        await using var connection = new NpgsqlConnection($"{DatabaseServer};Database=postgres");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private static string Find(string from) =>
        File.Exists(Path.Combine(from, "Tembri.slnx")) ? from : Find(Path.GetDirectoryName(from)!);
}
