using System.Net;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Tembri.Web.Tests;

/// <summary>No studio reaches another's rows by any route. Every route of the application is found by reflection; one that is
/// not named here fails the test until somebody has thought about it.</summary>
public sealed class IsolationTests(TembriHost host)
{
    /// <summary>Handlers of pages that show or change rows of a studio, with what they need besides identifiers in the
    /// address.</summary>
    private static readonly Dictionary<string, (string Address, (string, string)[] Fields)> Guarded = new()
    {
        ["GET /Songs/Index Row"] = ("/songs?handler=Row&song=SONG", []),
        ["GET /Songs/TakeDown"] = ("/songs/SONG/chart", []),
        ["POST /Songs/TakeDown"] = ("/songs/SONG/chart", [("Text", "| C |"), ("Version", "VERSION")]),
        ["POST /Songs/TakeDown Keep"] = ("/songs/SONG/chart?handler=Keep", [("Text", "| C |"), ("Version", "VERSION")]),
        ["POST /Songs/TakeDown Remove"] = ("/songs/SONG/chart?handler=Remove", [("sure", "true")]),
        ["GET /Songs/Remove"] = ("/songs/SONG/remove", []),
        ["GET /Songs/History"] = ("/songs/SONG/history", []),
        ["POST /Songs/History"] = ("/songs/SONG/history", [("number", "1"), ("version", "1")]),
        ["GET /Songs/Record"] = ("/songs/SONG/record", []),
        ["POST /Songs/Record Forget"] = ("/songs/SONG/record?handler=Forget", []),
        ["GET /Songs/Ladder"] = ("/songs/SONG/ladder/STUDENT", []),
        ["POST /Songs/Ladder Take"] = ("/songs/SONG/ladder/STUDENT?handler=Take",
            [("rung", "3"), ("chord", "0"), ("capo", "0"), ("frets", "-1,3,2,0,1,0"), ("fingers", "0,3,2,0,1,0")]),
        ["POST /Songs/Ladder Free"] = ("/songs/SONG/ladder/STUDENT?handler=Free", [("rung", "3"), ("chord", "0")]),
        ["POST /Songs/Ladder Capo"] = ("/songs/SONG/ladder/STUDENT?handler=Capo", [("capo", "3")]),
        ["POST /Songs/Ladder Place"] = ("/songs/SONG/ladder/STUDENT?handler=Place", [("capo", "3"), ("tuning", "0")]),
        ["POST /Songs/Ladder Lift"] = ("/songs/SONG/ladder/STUDENT?handler=Lift", [("up", "true")]),
        ["POST /Songs/Ladder Aim"] = ("/songs/SONG/ladder/STUDENT?handler=Aim", [("aim", "None"), ("company", "Alone")]),
        ["POST /Songs/Ladder Instead"] = ("/songs/SONG/ladder/STUDENT?handler=Instead",
            [("rung", "3"), ("chord", "0"), ("symbol", "G"), ("scope", "Ladder"), ("overrule", "true")]),
        ["POST /Songs/Ladder Forbid"] = ("/songs/SONG/ladder/STUDENT?handler=Forbid",
            [("rung", "3"), ("chord", "0"), ("frets", "-1,3,2,0,1,0"), ("scope", "Student")]),
        ["POST /Songs/Ladder Withdraw"] = ("/songs/SONG/ladder/STUDENT?handler=Withdraw", [("wish", "0")]),
        ["POST /Songs/Ladder Apart"] = ("/songs/SONG/ladder/STUDENT?handler=Apart",
            [("rung", "3"), ("chord", "0"), ("apart", "Song")]),
        ["POST /Songs/Ladder Carry"] = ("/songs/SONG/ladder/STUDENT?handler=Carry", [("degree", "0:"), ("to", "0")]),
        ["POST /Songs/Ladder Between"] = ("/songs/SONG/ladder/STUDENT?handler=Between", [("load", "25")]),
        ["POST /Songs/Ladder RungOut"] = ("/songs/SONG/ladder/STUDENT?handler=RungOut", [("rung", "4")]),
        ["POST /Songs/Ladder Undo"] = ("/songs/SONG/ladder/STUDENT?handler=Undo", []),
        ["POST /Songs/Ladder Redo"] = ("/songs/SONG/ladder/STUDENT?handler=Redo", []),
        ["GET /Songs/Steps"] = ("/songs/SONG/ladder/STUDENT/steps", []),
        ["POST /Songs/Steps"] = ("/songs/SONG/ladder/STUDENT/steps", [("number", "0")]),
        ["GET /Songs/Rungs"] = ("/songs/SONG/ladder/STUDENT/rungs", []),
        ["POST /Songs/Rungs"] = ("/songs/SONG/ladder/STUDENT/rungs", [("Rows[0].Number", "1")]),
        ["GET /Songs/Compare"] = ("/songs/SONG/ladder/STUDENT/compare", []),
        ["GET /Songs/Compare Score"] = ("/songs/SONG/ladder/STUDENT/compare?handler=Score", []),
        ["GET /Songs/Hand"] = ("/songs/SONG/ladder/STUDENT/hand", []),
        ["POST /Songs/Hand"] = ("/songs/SONG/ladder/STUDENT/hand", [("Form.Text", "| C |"), ("Form.Capo", "0")]),
        ["POST /Songs/Hand Score"] = ("/songs/SONG/ladder/STUDENT/hand?handler=Score",
            [("Form.Text", "| C |"), ("Form.Capo", "0")]),
        ["POST /Songs/Hand Remove"] = ("/songs/SONG/ladder/STUDENT/hand/00000000-0000-0000-0000-000000000001?handler=Remove",
            []),
        ["GET /Songs/RightHand"] = ("/songs/SONG/right-hand/STUDENT", []),
        ["GET /Songs/RightHand Look"] = ("/songs/SONG/right-hand/STUDENT?handler=Look&pattern=Dddd", []),
        ["GET /Songs/RightHand Score"] = ("/songs/SONG/right-hand/STUDENT?handler=Score&pattern=Dddd", []),
        ["POST /Songs/RightHand Keep"] = ("/songs/SONG/right-hand/STUDENT?handler=Keep", [("pattern", "Dddd")]),
        ["POST /Songs/RightHand Take"] = ("/songs/SONG/right-hand/STUDENT?handler=Take&rung=3", [("on", "3"), ("hand", "1")]),
        ["GET /Songs/Figures"] = ("/songs/SONG/figures/STUDENT", []),
        ["POST /Songs/Figures Look"] = ("/songs/SONG/figures/STUDENT?handler=Look", [("form.notes", "| E3 |")]),
        ["POST /Songs/Figures Score"] = ("/songs/SONG/figures/STUDENT?handler=Score", [("form.notes", "| E3 |")]),
        ["POST /Songs/Figures Keep"] = ("/songs/SONG/figures/STUDENT?handler=Keep", [("form.notes", "| E3 |")]),
        ["POST /Songs/Figures Way"] = ("/songs/SONG/figures/STUDENT?handler=Way&way=0", [("form.notes", "| E3 |")]),
        ["POST /Songs/Figures Remove"] = ("/songs/SONG/figures/STUDENT?handler=Remove", [("form.notes", "| E3 |")]),
        ["GET /Songs/Changes"] = ("/songs/SONG/changes/STUDENT", []),
        ["POST /Songs/Changes Take"] = ("/songs/SONG/changes/STUDENT?handler=Take&rung=3",
            [("chord", "0"), ("frets", "-1,3,2,0,1,0"), ("fingers", "0,3,2,0,1,0")]),
        ["POST /Songs/Changes Strum"] = ("/songs/SONG/changes/STUDENT?handler=Strum&rung=3", [("hand", "1")]),
        ["GET /Songs/Stage"] = ("/songs/SONG/stage/STUDENT", []),
        ["POST /Songs/Stage Entry"] = ("/songs/SONG/stage/STUDENT?handler=Entry",
            [("kind", "Note"), ("rung", "3"), ("text", "hello")]),
        ["GET /Songs/Places"] = ("/songs/SONG/places/STUDENT", []),
        ["GET /Songs/Listen"] = ("/songs/SONG/listen/STUDENT", []),
        ["GET /Songs/Listen Score"] = ("/songs/SONG/listen/STUDENT?handler=Score", []),
        ["GET /Songs/Sheet"] = ("/songs/SONG/sheet/STUDENT", []),
        ["GET /Songs/Files"] = ("/songs/SONG/files?student=STUDENT&rung=1", []),
        ["GET /Songs/Files Download"] = ("/songs/SONG/files?handler=Download&format=Bars", []),
        ["GET /Students/Edit"] = ("/students/STUDENT", []),
        ["GET /Students/Edit Fits"] = ("/students/STUDENT?handler=Fits", []),
        ["GET /Students/Edit Fit"] = ("/students/STUDENT?handler=Fit&song=SONG", []),
        ["POST /Students/Edit"] = ("/students/STUDENT", [("Form.Nickname", "Taken"), ("Form.Version", "VERSION")]),
        ["POST /Students/Edit Keep"] = ("/students/STUDENT?handler=Keep",
            [("Form.Nickname", "Taken"), ("Form.Version", "VERSION")]),
        ["POST /Students/Edit TakeLearnt"] = ("/students/STUDENT?handler=TakeLearnt", []),
        ["GET /Students/Practice"] = ("/students/STUDENT/practice", []),
        ["GET /Students/Practice Calendar"] = ("/students/STUDENT/practice?handler=Calendar", []),
        ["POST /Students/Practice Work"] = ("/students/STUDENT/practice?handler=Work", [("song", "SONG")]),
        ["POST /Students/Practice Step"] = ("/students/STUDENT/practice?handler=Step", [("song", "SONG"), ("rung", "2")]),
        ["POST /Students/Practice Aside"] = ("/students/STUDENT/practice?handler=Aside", [("song", "SONG")]),
        ["POST /Students/Practice Goal"] = ("/students/STUDENT/practice?handler=Goal", [("minutes", "20"), ("age", "Grown")]),
        ["POST /Students/Practice Clear"] = ("/students/STUDENT/practice?handler=Clear", []),
        ["POST /Students/Practice Plan"] = ("/students/STUDENT/practice?handler=Plan",
            [("act", "LeaveOut"), ("key", "warm-up")]),
        ["POST /Students/Practice Own"] = ("/students/STUDENT/practice?handler=Own", [("text", "mine"), ("minutes", "2")]),
        ["POST /Students/Practice Link"] = ("/students/STUDENT/practice?handler=Link", [("days", "90")]),
        ["POST /Students/Practice Revoke"] = ("/students/STUDENT/practice?handler=Revoke", []),
        ["POST /Students/Practice Mail"] = ("/students/STUDENT/practice?handler=Mail", [("to", "somebody@school.example")]),
        ["GET /Students/Log"] = ("/students/STUDENT/log", []),
        ["GET /Students/Log Table"] = ("/students/STUDENT/log?handler=Table", []),
        ["POST /Students/Log"] = ("/students/STUDENT/log", [("Form.Kind", "note"), ("Form.Text", "taken")]),
        ["POST /Students/Log TakeBack"] = ("/students/STUDENT/log?handler=TakeBack",
            [("entry", "00000000-0000-0000-0000-000000000001")]),
        ["POST /Students/Log PutBack"] = ("/students/STUDENT/log?handler=PutBack",
            [("entry", "00000000-0000-0000-0000-000000000001")]),
        ["POST /Students/Log Table"] = ("/students/STUDENT/log?handler=Table", []),
        ["GET /Students/Meeting"] = ("/students/STUDENT/meeting", []),
        ["POST /Students/Meeting"] = ("/students/STUDENT/meeting", [("what", "shape"), ("result", "3")]),
        ["POST /Students/Meeting Hand"] = ("/students/STUDENT/meeting?handler=Hand", [("spread", "110")]),
        ["GET /Students/Records"] = ("/students/STUDENT/records", []),
        ["GET /Students/Records Archive"] = ("/students/STUDENT/records?handler=Archive", []),
        ["GET /Index Row"] = ("/?handler=Row&id=STUDENT", []),
        ["GET /Songs/Class"] = ("/songs/SONG/class?with=STUDENT", []),
        ["GET /Songs/Class Score"] = ("/songs/SONG/class?handler=Score&with=STUDENT", []),
        ["GET /Songs/Class Pdf"] = ("/songs/SONG/class?handler=Pdf&with=STUDENT", []),
        ["GET /Songs/Sheet Pdf"] = ("/songs/SONG/sheet/STUDENT?handler=Pdf", []),
        ["POST /Songs/Sheet Pdf"] = ("/songs/SONG/sheet/STUDENT?handler=Pdf", []),
        ["GET /Students/Road"] = ("/students/STUDENT/road", []),

        ["GET /Students/Erase"] = ("/students/STUDENT/erase", []),
        ["POST /Students/Erase"] = ("/students/STUDENT/erase", []),
    };

    /// <summary>Handlers that name no row of another: they show one's own studio, compute from what is sent, or belong to
    /// accounts, whose tests are their own.</summary>
    private static readonly HashSet<string> OfNobody =
    [
        "GET /Students/Index", "GET /Sheets", "POST /Sheets", "POST /Sheets Cancel", "GET /Sheets Pdf", "GET /Lessons",
        "GET /Lessons Ics", "POST /Lessons Add", "POST /Lessons Remove", "POST /Lessons Change", "POST /Lessons Free",
        "POST /Lessons Unfree", "POST /Lessons Bring", "GET /Sets", "GET /Sets Pdf", "GET /Sets Archive", "POST /Sets",
        "POST /Sets New", "POST /Sets Remove", "POST /Index Begun", "GET /Guide", "GET /Operator", "POST /Operator Open",
        "POST /Operator Bring", "POST /Operator Close", "POST /Operator Reopen", "POST /Operator Regrade",
        "POST /Operator Reset", "POST /Operator Erase", "POST /Operator Export", "GET /StudioData", "GET /StudioData Archive",
        "POST /StudioData Archive", "POST /StudioData Key", "POST /StudioData End", "POST /Studio Examples",
        "POST /Studio ClearExamples", "GET /Guitars", "POST /Guitars", "POST /Guitars Remove", "GET /My/Index", "POST /My/Index",
        "GET /Index", "GET /Songs/Index", "GET /Songs/Index Arranging", "POST /Songs/Index Arrange",
        "POST /Songs/Index StopArranging", "GET /Studio", "POST /Studio", "GET /StudioRungs", "POST /StudioRungs", "GET /Grips",
        "POST /Grips Grip", "POST /Grips Thumb", "POST /Grips StandIn", "POST /Grips Withdraw", "GET /Find", "GET /Songs/Bring",
        "POST /Songs/Bring", "POST /Songs/TakeDown Check", "POST /Songs/TakeDown Mend", "POST /Songs/TakeDown Move",
        "POST /Songs/TakeDown Act",
        "GET /Account/SignIn", "POST /Account/SignIn", "POST /Account/SignIn Demo", "GET /Account/SecondFactor",
        "POST /Account/SecondFactor", "GET /Account/Open", "POST /Account/Open", "GET /Account/SignOut", "POST /Account/SignOut",
        "GET /Account/Forgot", "POST /Account/Forgot", "GET /Account/Reset", "POST /Account/Reset", "GET /Account/Address",
        "POST /Account/Address", "GET /Account/Mail", "GET /Account/Strength", "POST /Account/Strength",
        "GET /Account/Yours", "POST /Account/Yours Password", "POST /Account/Yours Email", "POST /Account/Yours Session",
        "POST /Account/Yours Factor", "POST /Account/Yours FactorOn", "POST /Account/Yours FactorOff",
        "POST /Account/Yours Remove",
    ];

    private static readonly HashSet<string> OtherRoutes = ["/health", "/health/live", "/health/ready",
        "/openapi/{documentName}.json", "/account/token", "/my/{secret}/entries", "/my/{secret}/entries/{entry:guid}/take-back",
        "/my/{secret}/score/{song:guid}", "/my/{secret}/app.webmanifest", "/my/worker.js", "/api/v1/chords", "/api/v1/figures",
        "/api/v1/fingerings", "/api/v1/shapes", "/api/v1/skills", "/api/v1/strums", "/api/v1/changes", "/api/v1/ladder",
        "/api/v1/convert", "/api/v1/class", "/api/v1/road", "/api/v1/hearing", "/songs/{id:guid}/record/listen",
        "/songs/draft-from-record", "/api/v1/songs", "/api/v1/songs/{id:guid}", "/api/v1/students",
        "/api/v1/students/{id:guid}/entries", "/api/v1/students/{id:guid}/plan", "/today"];

    private List<string> HandlersThere()
    {
        var pages = host.Services.GetRequiredService<EndpointDataSource>().Endpoints.Select(
                e => e.Metadata.GetMetadata<PageActionDescriptor>()).OfType<PageActionDescriptor>()
            .DistinctBy(p => p.ViewEnginePath);
        var loader = host.Services.GetRequiredService<Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure.PageLoader>();
        return [.. pages.SelectMany(page => loader.LoadAsync(page, EndpointMetadataCollection.Empty).GetAwaiter()
            .GetResult().HandlerMethods.Select(
                h => $"{h.HttpMethod.ToUpperInvariant()} {page.ViewEnginePath} {h.Name}".TrimEnd()))];
    }

    [Fact]
    public void Every_route_there_is_has_been_thought_about()
    {
        var there = HandlersThere();
        Assert.NotEmpty(there);
        Assert.Equal([], there.Where(h => !Guarded.ContainsKey(h) && !OfNobody.Contains(h)));
        Assert.Equal([], Guarded.Keys.Concat(OfNobody).Except(there));
        var others = host.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is null)
            .Select(e => "/" + e.RoutePattern.RawText!.TrimStart('/'));
        Assert.Equal(OtherRoutes.Order(), others.Distinct().Order());
    }

    [Fact]
    public async Task The_database_itself_shows_a_connection_the_rows_of_its_studio_only()
    {
        var first = await host.VisitNewStudioAsync();
        var (song, student) = (await first.TakeDownAsync("title: Mine Alone\n| C | F |"), await first.AddStudentAsync("Fern"));
        await first.PageAsync($"/songs?handler=Row&song={song}");
        await first.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Capo", ("capo", "2"));
        // A plain role that owns nothing, as the application is; the owner of a test's server sees everything.
        var role = $"plain_{Guid.NewGuid():N}";
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        async Task<object?> Ask(string sql)
        {
            await using var command = new Npgsql.NpgsqlCommand(sql, connection);
            return await command.ExecuteScalarAsync();
        }
        var studio = await Ask($"select studio_id from songs where id = '{song}'");
        string[] tables = ["songs", "students", "ladder_choices", "ladder_states", "arranged_ladders"];
        // Only who signs in, or comes by a link, is looked up before the studio is known; the operators' trail is of all
        // studios, and lines about changes hold numbers.
        Assert.Equal("api_keys operator_acts student_links studio_changes teachers",
            await Ask("select string_agg(relname, ' ' order by relname) from pg_class c join pg_attribute a on a.attrelid = c.oid where c.relkind = 'r' and a.attname = 'studio_id' and not c.relforcerowsecurity"));
        await Ask($"create role {role}");
        try
        {
            await Ask($"grant select, insert, update, delete on all tables in schema public to {role}");
            await Ask($"set role {role}");
            foreach (var (who, sees) in new[] { ("", false), (Guid.NewGuid().ToString(), false), (studio!.ToString()!, true) })
            {
                await Ask($"select set_config('tembri.studio', '{who}', false)");
                foreach (var table in tables) Assert.Equal(sees, (long)(await Ask($"select count(*) from {table}"))! > 0);
                Assert.Equal(sees ? 1L : 0L,
                    await Ask($"with changed as (update songs set title = title where id = '{song}' returning 1) select count(*) from changed"));
            }
            await Ask($"select set_config('tembri.studio', '{Guid.NewGuid()}', false)");
            await Assert.ThrowsAsync<Npgsql.PostgresException>(
                () => Ask($"insert into arranging_orders values ('{studio}', '{song}', now())"));
        }
        finally
        {
            await Ask("reset role");
            await Ask($"drop owned by {role}");
            await Ask($"drop role {role}");
        }
    }

    [Fact]
    public async Task Nothing_of_one_studio_is_seen_or_changed_from_another_by_any_route()
    {
        var first = await host.VisitNewStudioAsync();
        var (song, student) = (await first.TakeDownAsync("title: Mine Alone\n| C | F |"), await first.AddStudentAsync("Fern"));
        string Version(AngleSharp.Html.Dom.IHtmlDocument page, string name) =>
            page.QuerySelector($"input[name='{name}']")!.GetAttribute("value")!;
        var songVersion = Version(await first.PageAsync($"/songs/{song}/chart"), "Version");
        var studentVersion = Version(await first.PageAsync($"/students/{student}"), "Form.Version");
        var second = await host.VisitNewStudioAsync();
        var (ownSong, ownStudent) =
            (await second.TakeDownAsync("title: Other\n| G | C |"), await second.AddStudentAsync("Reed"));
        var tried = 0;
        foreach (var (handler, (address, fields)) in Guarded)
            // Both of another's, and each of another's beside one's own.
            foreach (var (s, p) in new[] { (song, student), (song, ownStudent), (ownSong, student) })
            {
                if ((s == ownSong && !address.Contains("STUDENT", StringComparison.Ordinal))
                    || (p == ownStudent && !address.Contains("SONG", StringComparison.Ordinal)))
                    continue;
                var there = address.Replace("SONG", s, StringComparison.Ordinal).Replace("STUDENT", p, StringComparison.Ordinal);
                var filled = fields.Select(
                        f => (f.Item1, f.Item2 == "VERSION" ? f.Item1 == "Version" ? songVersion : studentVersion : f.Item2))
                    .ToArray();
                var answer = handler.StartsWith("GET", StringComparison.Ordinal)
                    ? await second.Client.GetAsync(there)
                    : await second.PostAsync("/songs/new", there, filled);
                Assert.True(answer.StatusCode == HttpStatusCode.NotFound, $"{handler}, {there}: {answer.StatusCode}");
                Assert.DoesNotContain("Mine Alone", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
                tried++;
            }
        Assert.True(tried >= Guarded.Count);
        Assert.Contains("| C | F |", (await first.PageAsync($"/songs/{song}/chart")).QuerySelector("textarea")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal("Fern", (await first.PageAsync($"/students/{student}")).QuerySelector("h1")!.TextContent);
        Assert.Equal("0",
            (await first.PageAsync($"/songs/{song}/ladder/{student}")).QuerySelector("input[name=revision]")!.GetAttribute(
                "value"));
    }
}
