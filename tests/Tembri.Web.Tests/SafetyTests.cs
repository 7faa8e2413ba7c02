using System.Net;

namespace Tembri.Web.Tests;

public sealed class SafetyTests(TembriHost host)
{
    [Theory]
    [InlineData("/")]
    [InlineData("/songs/new")]
    [InlineData("/students/new")]
    public async Task Without_signing_in_every_page_leads_to_the_sign_in(string address)
    {
        var answer = await host.Visit().Client.GetAsync(address);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.Contains("/account/sign-in", answer.Headers.Location!.ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_change_without_the_forms_token_is_refused()
    {
        var visitor = await host.VisitDemoAsync();
        var answer =
            await visitor.Client.PostAsync("/songs/new", new FormUrlEncodedContent([KeyValuePair.Create("Text", "| C |")]));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task Pages_carry_a_strict_content_policy_and_nothing_inline()
    {
        var visitor = await host.VisitDemoAsync();
        var ladder = await visitor.LadderAsync("Harbour Lullaby", "Otis");
        foreach (var address in new[]
        {
            "/", "/songs/new", ladder, ladder.Replace("/ladder/", "/sheet/", StringComparison.Ordinal),
            $"/students/{await visitor.StudentAsync("Pip")}"
        })
        {
            var answer = await visitor.Client.GetAsync(address);
            var policy = answer.Headers.GetValues("Content-Security-Policy").Single();
            Assert.Contains("script-src 'self';", policy, StringComparison.Ordinal);
            Assert.Contains("style-src 'self';", policy, StringComparison.Ordinal);
            Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
            Assert.Equal("nosniff", answer.Headers.GetValues("X-Content-Type-Options").Single());
            var page = await Visitor.Read(answer);
            Assert.Empty(page.QuerySelectorAll("[style], style, script:not([src]), [onclick], [onload]"));
            Assert.All(page.QuerySelectorAll("script[src], link[href], img[src]"),
                e => Assert.StartsWith("/", e.GetAttribute("src") ?? e.GetAttribute("href")!, StringComparison.Ordinal));
        }
    }

    [Fact]
    public async Task Session_cookies_are_out_of_reach_of_scripts_and_other_sites()
    {
        var visitor = host.Visit();
        var answer = await visitor.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
        var cookie = answer.Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("tembri.session", StringComparison.Ordinal))
            .ToLowerInvariant();
        Assert.Contains("httponly", cookie, StringComparison.Ordinal);
        Assert.Contains("samesite=lax", cookie, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Health_answers_and_unknown_addresses_say_what_to_do()
    {
        var client = host.Visit().Client;
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/health")).StatusCode);
        var visitor = await host.VisitDemoAsync();
        var missing = await visitor.Client.GetAsync($"/songs/{Guid.NewGuid()}/chart");
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
        Assert.Contains("There is nothing here", await missing.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_demo_sign_in_shows_only_while_the_demo_studio_is_loaded()
    {
        Assert.Contains("mira@kestrel.example", (await host.Visit().PageAsync("/account/sign-in")).Body!.TextContent,
            StringComparison.Ordinal);
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        async Task Mark(bool demo)
        {
            await using var command = new Npgsql.NpgsqlCommand(
                $"update studios set is_demo = {demo} where name = 'Kestrel Lane Guitar Room'", connection);
            await command.ExecuteNonQueryAsync();
        }
        await Mark(false);
        try
        {
            Assert.DoesNotContain("mira@kestrel.example", (await host.Visit().PageAsync("/account/sign-in")).Body!.TextContent,
                StringComparison.Ordinal);
        }
        finally { await Mark(true); }
    }
}
