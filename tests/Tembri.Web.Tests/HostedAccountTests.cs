using System.Diagnostics;
using System.Net;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Mail;

namespace Tembri.Web.Tests;

/// <summary>What a host of many studios may turn on: sealed digests of passwords, sign-ins that end by themselves, cookies of
/// this host only; and digests from before.</summary>
public sealed class HostedAccountTests(TembriHost host)
{
    private const string Password = "quiet-blue-door";
    private static readonly Teacher Somebody = new();

    private static AccountSettings Settings(params (string Name, string? Value)[] set)
    {
        var configuration =
            new ConfigurationBuilder().AddInMemoryCollection(set.ToDictionary(s => s.Name, s => s.Value)).Build();
        return AccountSettings.Of(configuration, new PublicAddress(configuration));
    }

    private static PasswordDigests Digests(IDataProtectionProvider keys, bool areSealed, int rounds) =>
        new(Options.Create(new PasswordHasherOptions { IterationCount = rounds }), keys,
            new AccountSettings(areSealed, null, null, false), NullLogger<PasswordDigests>.Instance);

    [Fact]
    public void A_sealed_digest_is_worth_nothing_without_its_key_and_one_from_before_goes_on_and_is_made_anew()
    {
        var keys = new EphemeralDataProtectionProvider();
        PasswordDigests plain = Digests(keys, false, 1_000), slower = Digests(keys, false, 2_000);
        var shut = Digests(keys, true, 1_000);
        var (before, kept) = (plain.HashPassword(Somebody, Password), shut.HashPassword(Somebody, Password));
        Assert.Equal(1_000, PasswordDigests.RoundsOf(before));
        Assert.Equal(2_000, PasswordDigests.RoundsOf(slower.HashPassword(Somebody, Password)));
        Assert.StartsWith("sealed:", kept, StringComparison.Ordinal);
        // What whoever reads the database has: a digest that no guess can be held against.
        Assert.Equal(0, PasswordDigests.RoundsOf(kept["sealed:".Length..]));
        PasswordVerificationResult Of(PasswordDigests by, string digest, string password = Password) =>
            by.VerifyHashedPassword(Somebody, digest, password);
        Assert.Equal(PasswordVerificationResult.Success, Of(plain, before));
        Assert.Equal(PasswordVerificationResult.Success, Of(shut, kept));
        foreach (var (by, old) in new[] { (slower, before), (shut, before), (plain, kept) })
        {
            Assert.Equal(PasswordVerificationResult.SuccessRehashNeeded, Of(by, old));
            Assert.Equal(PasswordVerificationResult.Failed, Of(by, old, "quiet-blue-floor"));
        }
        var others = Digests(new EphemeralDataProtectionProvider(), true, 1_000);
        foreach (var broken in new[] { kept, "sealed:", "sealed:AAAA", "", kept[..^4] })
            Assert.Equal(PasswordVerificationResult.Failed, Of(others, broken));
    }

    /// <summary>Else a wrong password at an old account would be answered sooner than at none.</summary>
    [Fact]
    public void A_digest_of_few_rounds_takes_as_long_to_check_as_a_new_one()
    {
        var keys = new EphemeralDataProtectionProvider();
        const int Many = 100_000;
        PasswordDigests now = Digests(keys, false, Many);
        string old = Digests(keys, false, 1_000).HashPassword(Somebody, Password), anew = now.HashPassword(Somebody, Password);
        TimeSpan Least(string digest) => Enumerable.Range(0, 5).Min(_ =>
        {
            var start = Stopwatch.GetTimestamp();
            now.VerifyHashedPassword(Somebody, digest, "quiet-blue-floor");
            return Stopwatch.GetElapsedTime(start);
        });
        Assert.Equal((99_000, 0, 100_000), (now.RoundsMissing(old), now.RoundsMissing(anew), now.RoundsMissing("")));
        // Without what is missing it would be a hundredth.
        Assert.True(Math.Min(Least(old) / Least(anew), Least("") / Least(anew)) > 0.2);
    }

    [Fact]
    public async Task A_sign_in_makes_an_old_digest_anew_and_signs_nobody_out()
    {
        var email = $"{Guid.NewGuid():N}@studio.example";
        async Task<Visitor> In(string page, params (string, string)[] more)
        {
            var visitor = host.Visit();
            Assert.Equal(HttpStatusCode.Redirect,
                (await visitor.PostAsync(page, page, [("Email", email), ("Password", Password), .. more])).StatusCode);
            return visitor;
        }
        var first = await In("/account/open", ("StudioName", "Quiet Room"));
        var old = Digests(new EphemeralDataProtectionProvider(), false, 500).HashPassword(Somebody, Password);
        Task<object?> KeptAsync() => host.AskAsync($"select password_hash from teachers where email = '{email}'");
        Task<object?> AgeAsync() => host.AskAsync($"update teachers set password_hash = '{old}' where email = '{email}'");
        await AgeAsync();
        await In("/account/sign-in");
        var anew = (string)(await KeptAsync())!;
        Assert.Equal(1_000, PasswordDigests.RoundsOf(anew));
        Assert.Equal(HttpStatusCode.OK, (await first.Client.GetAsync("/")).StatusCode);
        await In("/account/sign-in");
        Assert.Equal(anew, await KeptAsync());
        // Before something that matters the password is asked for; that makes an old digest anew, too.
        await AgeAsync();
        await first.PostAsync("/account", "/account?handler=Email", ("password", Password), ("newEmail", "other-" + email));
        Assert.NotEqual(old, await KeptAsync());
        Assert.Equal(HttpStatusCode.OK, (await first.Client.GetAsync("/")).StatusCode);
    }

    [Fact]
    public async Task A_host_may_end_sign_ins_by_the_clock_and_keep_cookies_to_itself()
    {
        await using var strict = host.WithWebHostBuilder(builder =>
        {
            foreach (var (name, value) in new[]
            {
                ("PublicAddress", "https://localhost"), ("Accounts:HostCookies", "true"), ("Accounts:SessionHours", "12"),
                ("Accounts:IdleMinutes", "30"), ("WarmUp", "false")
            })
                builder.UseSetting(name, value);
        });
        var at = new WebApplicationFactoryClientOptions { AllowAutoRedirect = false, BaseAddress = new Uri("https://localhost") };
        async Task<(Visitor Visitor, string Session)> EnterAsync()
        {
            var visitor = new Visitor(strict.CreateClient(at));
            Assert.Contains("12 hours here, and 30 minutes", (await visitor.PageAsync("/account/sign-in")).QuerySelector("form .aside")!.TextContent,
                StringComparison.Ordinal);
            var entered = await visitor.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
            Assert.All(entered.Headers.GetValues("Set-Cookie").Where(c => c.Contains("session", StringComparison.Ordinal)), c =>
            {
                Assert.StartsWith("__Host-tembri.session=", c, StringComparison.Ordinal);
                Assert.Contains("; path=/; secure; samesite=lax; httponly", c, StringComparison.Ordinal);
            });
            var id = (Guid)(await host.AskAsync("select id from sessions order by started_at desc limit 1"))!;
            return (visitor, $"'{id}'");
        }
        async Task<HttpStatusCode> AskAsync(Visitor visitor) => (await visitor.Client.GetAsync("/songs")).StatusCode;
        foreach (var (change, stands) in new[]
        {
            ("started_at = now() - interval '11 hours 59 minutes'", true), ("started_at = now() - interval '12 hours 1 minute'", false),
            ("seen_at = now() - interval '29 minutes'", true), ("seen_at = now() - interval '31 minutes'", false)
        })
        {
            var (visitor, session) = await EnterAsync();
            Assert.Equal(HttpStatusCode.OK, await AskAsync(visitor));
            await host.AskAsync($"update sessions set {change} where id = {session}");
            Assert.Equal(stands ? HttpStatusCode.OK : HttpStatusCode.Redirect, await AskAsync(visitor));
            // Whoever looks is not idle: the look itself counts, here after far less than five minutes.
            if (stands)
                Assert.True(await host.IsSoonAsync($"select seen_at > now() - interval '1 minute' from sessions where id = {session}"), change);
        }
    }

    [Theory]
    [InlineData("11 hours", false)]
    [InlineData("13 hours", true)]
    public void A_sign_in_is_over_by_its_beginning_or_by_the_last_look_and_never_without_a_limit(string since, bool isOver)
    {
        var now = new DateTimeOffset(2026, 11, 29, 12, 0, 0, TimeSpan.Zero);
        var then = now.AddHours(-int.Parse(since.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(isOver, Settings(("Accounts:SessionHours", "12")).IsOver(then, now, now));
        Assert.Equal(isOver, Settings(("Accounts:IdleMinutes", "720")).IsOver(now.AddDays(-9), then, now));
        Assert.False(Settings().IsOver(now.AddYears(-1), then, now));
    }

    [Theory]
    [InlineData("Accounts:SessionHours", "-1")]
    [InlineData("Accounts:SessionHours", "twelve")]
    [InlineData("Accounts:IdleMinutes", "0.5")]
    [InlineData("Accounts:HostCookies", "true")]
    [InlineData("Accounts:SealPasswords", "true")]
    [InlineData("Accounts:SealPasswords", "yes")]
    public void A_setting_that_cannot_hold_is_refused_by_its_name(string name, string value) =>
        Assert.StartsWith(name, Assert.Throws<FormatException>(() => Settings((name, value))).Message, StringComparison.Ordinal);

    [Fact]
    public void Nothing_of_it_is_on_by_itself()
    {
        Assert.Equal(new AccountSettings(false, null, null, false), Settings());
        Assert.Null(Settings().Told);
        Assert.Equal("tembri.session", Settings().CookieName("tembri.session"));
        Assert.Equal("A sign-in lasts 90 minutes with nothing done here.", Settings(("Accounts:IdleMinutes", "90")).Told);
        Assert.Equal("A sign-in lasts 14 days here.", Settings(("Accounts:SessionHours", "336")).Told);
    }
}
