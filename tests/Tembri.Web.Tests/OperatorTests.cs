using System.Net;
using System.Net.Http.Headers;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Tembri.Data;
using Tembri.Web.Operating;

namespace Tembri.Web.Tests;

/// <summary>What an operator may do, by the page and by the command line, who may not, and the trail it leaves.</summary>
public sealed class OperatorTests(TembriHost host) : PracticeStudio(host)
{
    private const string Password = "quiet-blue-door";

    private static string NewEmail() => $"{Guid.NewGuid():N}@studio.example";

    private async Task<(Visitor Visitor, string Email, Guid Studio)> StudioAsync(string name)
    {
        var (visitor, email) = (Host.Visit(), NewEmail());
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync("/account/open", "/account/open", ("StudioName", name), ("Email", email),
                ("Password", Password))).StatusCode);
        return (visitor, email,
            (Guid)(await AskAsync($"select studio_id from teachers where normalized_email = '{email.ToUpperInvariant()}'"))!);
    }

    private Task<object?> AskAsync(string sql) => Host.AskAsync(sql);

    private async Task<(int Code, string Said, string Errors)> LineAsync(params string[] words)
    {
        using StringWriter output = new(), errors = new();
        var code = await OperatorLine.Commands(Host.Services, output, errors).Parse(words)
            .InvokeAsync(new System.CommandLine.InvocationConfiguration { Output = output, Error = errors },
                TestContext.Current.CancellationToken);
        return (code, output.ToString(), errors.ToString());
    }

    private async Task<Visitor> OperatorAsync()
    {
        var (visitor, _, studio) = await StudioAsync("Office");
        Assert.Equal(0, (await LineAsync("appoint", studio.ToString())).Code);
        await AskAsync($"update teachers set two_factor_enabled = true where studio_id = '{studio}'");
        return visitor;
    }

    private async Task<HttpResponseMessage> SignInAsync(string email, string password = Password) =>
        await Host.Visit().PostAsync("/account/sign-in", "/account/sign-in", ("Email", email), ("Password", password));

    [Fact]
    public async Task Only_who_was_appointed_sees_the_page_and_acts_only_with_a_second_factor()
    {
        var (visitor, email, studio) = await StudioAsync("Curious");
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync("/operator")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound,
            (await visitor.PostAsync("/songs/new", "/operator?handler=Close", ("id", studio.ToString()))).StatusCode);
        Assert.Equal(0, (await LineAsync("appoint", email)).Code);
        var page = await visitor.PageAsync("/operator");
        Assert.Contains("second factor", page.QuerySelector(".note")!.TextContent, StringComparison.Ordinal);
        Assert.Null(page.QuerySelector("main table"));
        Assert.Equal(HttpStatusCode.NotFound,
            (await visitor.PostAsync("/songs/new", "/operator?handler=Close", ("id", studio.ToString()))).StatusCode);
        Assert.Null(await AskAsync($"select closed_at from studios where id = '{studio}'") as DateTime?);
        Assert.Equal(0, (await LineAsync("dismiss", email)).Code);
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync("/operator")).StatusCode);
        Assert.Equal((1, "No account has this address or identifier."),
            ((await LineAsync("appoint", "nobody@studio.example")) is var (code, _, said) ? (code, said.Trim()) : default));
        Assert.Contains("all its visitors", (await LineAsync("appoint", "mira@kestrel.example")).Errors,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_closed_studio_lets_nobody_in_by_any_door_and_loses_nothing()
    {
        var office = await OperatorAsync();
        var (visitor, email, studio) = await StudioAsync("Closed One");
        var (song, student) = (await visitor.TakeDownAsync("title: Kept\n| C |"), await visitor.AddStudentAsync("Fern"));
        var link = await LinkAsync(visitor, student);
        var key = (await Visitor.Read(await visitor.PostAsync("/studio/data", "/studio/data?handler=Key", ("name", "script"))))
                .QuerySelector("input[readonly]")!.GetAttribute("value")!;
        async Task<HttpStatusCode> ByKeyAsync()
        {
            using var asked = new HttpRequestMessage(HttpMethod.Get, "/api/v1/songs")
            {
                Headers = { Authorization = new AuthenticationHeaderValue("Bearer", key) }
            };
            return (await Host.Visit().Client.SendAsync(asked)).StatusCode;
        }
        Assert.Equal((HttpStatusCode.OK, HttpStatusCode.OK),
            (await ByKeyAsync(), (await Host.Visit().Client.GetAsync(link)).StatusCode));
        Assert.Equal(HttpStatusCode.Redirect,
            (await office.PostAsync($"/operator?find={studio}", "/operator?handler=Close", ("id", studio.ToString()),
                ("why", "moved away"), ("find", studio.ToString()))).StatusCode);
        Assert.Equal((HttpStatusCode.Unauthorized, HttpStatusCode.NotFound),
            (await ByKeyAsync(), (await Host.Visit().Client.GetAsync(link)).StatusCode));
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Client.GetAsync($"/songs/{song}/chart")).StatusCode);
        Assert.Contains("closed", (await Visitor.Read(await SignInAsync(email))).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        var page = await office.PageAsync($"/operator?find={email}");
        Assert.Contains("closed on", page.QuerySelector("main table")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("moved away", page.QuerySelectorAll("main table").Last().TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await office.PostAsync($"/operator?find={studio}", "/operator?handler=Reopen",
                ("id", studio.ToString()))).StatusCode);
        Assert.Equal((HttpStatusCode.OK, HttpStatusCode.OK, HttpStatusCode.Redirect),
            (await ByKeyAsync(), (await Host.Visit().Client.GetAsync(link)).StatusCode, (await SignInAsync(email)).StatusCode));
    }

    [Fact]
    public async Task Erasing_and_taking_out_ask_for_the_operators_own_password_and_the_name()
    {
        var office = await OperatorAsync();
        var (_, email, studio) = await StudioAsync("To Go");
        async Task<HttpResponseMessage> EraseAsync(string name, string password) =>
            await office.PostAsync($"/operator?find={studio}", "/operator?handler=Erase", ("id", studio.ToString()),
                ("name", name), ("password", password));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await EraseAsync("To Go", "not-the-password")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await EraseAsync("Other", Password)).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await office.PostAsync($"/operator?find={studio}", "/operator?handler=Export", ("id", studio.ToString()),
                ("password", ""))).StatusCode);
        var taken = await office.PostAsync($"/operator?find={studio}", "/operator?handler=Export", ("id", studio.ToString()),
            ("password", Password));
        Assert.Equal("application/zip", taken.Content.Headers.ContentType!.MediaType);
        Assert.Equal(1L, await AskAsync($"select count(*) from studios where id = '{studio}'"));
        Assert.Equal(HttpStatusCode.Redirect, (await EraseAsync("To Go", Password)).StatusCode);
        Assert.Equal(0L, await AskAsync($"select count(*) from studios where id = '{studio}'"));
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(email)).StatusCode);
        // The trail outlives the studio, and nobody rewrites it.
        Assert.Equal("export erase",
            await AskAsync($"select string_agg(what, ' ' order by at) from operator_acts where studio_id = '{studio}'"));
        foreach (var sql in new[]
        {
            "update operator_acts set who = 'nobody'", "delete from operator_acts", "truncate operator_acts"
        })
            Assert.Contains("trail", (await Assert.ThrowsAsync<PostgresException>(() => AskAsync(sql))).MessageText,
                StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_command_line_opens_helps_in_takes_out_and_brings_back_beside()
    {
        var email = NewEmail();
        var (code, said, _) = await LineAsync("open", "By Line", email);
        Assert.Equal(0, code);
        async Task ChooseAsync(string line, string password)
        {
            var way = line.Trim().Split(')')[^1];
            var visitor = Host.Visit();
            var query = System.Web.HttpUtility.ParseQueryString(new Uri("http://there" + way).Query);
            Assert.Equal(HttpStatusCode.Redirect,
                (await visitor.PostAsync(way, "/account/reset", ("user", query["user"]!), ("Token", query["token"]!),
                    ("Password", password))).StatusCode);
        }
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(email, "")).StatusCode);
        await ChooseAsync(said, Password);
        var visitor = Host.Visit();
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync("/account/sign-in", "/account/sign-in", ("Email", email),
                ("Password", Password))).StatusCode);
        await visitor.TakeDownAsync("title: Taken Along\n| C | G |");
        await visitor.AddStudentAsync("Fern");
        var studio = said.Split('\n')[0].Trim();
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.zip");
        try
        {
            Assert.Equal(0, (await LineAsync("export", studio, file)).Code);
            Assert.Equal((1, true),
                ((await LineAsync("export", studio, file)) is var (again, _, why)
                    ? (again, why.Contains("there already", StringComparison.Ordinal))
                    : default));
            var beside = NewEmail();
            var (brought, what, _) = await LineAsync("bring", file, "As It Was", beside);
            Assert.Equal(0, brought);
            var listed = (await LineAsync("studios", beside)).Said;
            Assert.Contains("As It Was", listed, StringComparison.Ordinal);
            Assert.Contains("1 songs\t1 students", listed, StringComparison.Ordinal);
            await ChooseAsync(what, "other-blue-door");
            Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(beside, "other-blue-door")).StatusCode);
            // What is no archive opens nothing.
            await File.WriteAllTextAsync(file, "no archive", TestContext.Current.CancellationToken);
            Assert.Equal(1, (await LineAsync("bring", file, "Never", NewEmail())).Code);
            Assert.Equal(0L, await AskAsync("select count(*) from studios where name = 'Never'"));
        }
        finally { File.Delete(file); }
        Assert.Equal(0, (await LineAsync("re-grade", studio)).Code);
        Assert.Equal(1L, await AskAsync($"select count(*) from arranging_orders where studio_id = '{studio}'"));
        var (_, reset, _) = await LineAsync("reset-password", email);
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(email)).StatusCode);
        await ChooseAsync(reset, "third-blue-door");
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(email, "third-blue-door")).StatusCode);
        var load = (await LineAsync("load")).Said.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        // A column of names, and one of values, apart by two blanks; nothing of the command's own process.
        Assert.All(load, l => Assert.Matches(@"^\S+( \S+)*  +\S", l));
        Assert.Single(load.Select(l => l.Length - l[l.IndexOf("  ", StringComparison.Ordinal)..].TrimStart().Length).Distinct());
        Assert.Contains(load, l => l.StartsWith("Database  ", StringComparison.Ordinal));
        Assert.DoesNotContain(load, l => l.StartsWith("This instance", StringComparison.Ordinal));
        Assert.Equal(0, (await LineAsync("close", studio, "--why", "by line")).Code);
        Assert.Equal((1, 1),
            ((await LineAsync("erase", studio, "--name", "Other")).Code,
                (await LineAsync("close", Guid.NewGuid().ToString())).Code));
        Assert.Equal(0, (await LineAsync("erase", studio, "--name", "By Line")).Code);
        Assert.Contains("by line", (await LineAsync("trail", "--last", "10")).Said, StringComparison.Ordinal);
        Assert.NotEqual(0, (await LineAsync("close", "not-an-identifier")).Code);
        Assert.NotEqual(0, (await LineAsync("unheard-of")).Code);
    }
}
