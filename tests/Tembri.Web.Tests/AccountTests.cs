using System.Net;
using System.Security.Cryptography;
using AngleSharp.Html.Dom;

namespace Tembri.Web.Tests;

/// <summary>Nobody gets in who should not, and nobody is shut out who should.</summary>
public sealed class AccountTests(TembriHost host)
{
    private const string Password = "quiet-blue-door";

    private static string NewEmail() => $"{Guid.NewGuid():N}@studio.example";

    private async Task<Visitor> OpenAsync(string email, string password = Password)
    {
        var visitor = host.Visit();
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync("/account/open", "/account/open", ("StudioName", "Quiet Room"), ("Email", email),
                ("Password", password))).StatusCode);
        return visitor;
    }

    private async Task<(Visitor Visitor, HttpResponseMessage Answer)> SignInAsync(string email, string password)
    {
        var visitor = host.Visit();
        return (visitor,
            await visitor.PostAsync("/account/sign-in", "/account/sign-in", ("Email", email), ("Password", password)));
    }

    private static async Task<bool> IsInAsync(Visitor visitor) =>
        (await visitor.Client.GetAsync("/")).StatusCode == HttpStatusCode.OK;

    [Fact]
    public async Task Signing_out_ends_every_session_and_a_changed_password_every_other_one()
    {
        var email = NewEmail();
        var first = await OpenAsync(email);
        var (second, _) = await SignInAsync(email, Password);
        Assert.True(await IsInAsync(first) && await IsInAsync(second));
        var changed = await second.PostAsync("/account", "/account?handler=Password", ("password", Password),
            ("newPassword", "slow-green-gate"));
        Assert.Equal("/account?said=password", changed.Headers.Location!.ToString());
        Assert.False(await IsInAsync(first));
        Assert.True(await IsInAsync(second));
        // the page again, with the reason
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(email, Password)).Answer.StatusCode);
        var (third, inAgain) = await SignInAsync(email, "slow-green-gate");
        Assert.Equal(HttpStatusCode.Redirect, inAgain.StatusCode);
        await third.PostAsync("/", "/account/sign-out");
        Assert.False(await IsInAsync(second) || await IsInAsync(third));
    }

    [Fact]
    public async Task One_session_is_ended_from_another()
    {
        var email = NewEmail();
        var first = await OpenAsync(email);
        var (second, _) = await SignInAsync(email, Password);
        var page = await second.PageAsync("/account");
        var rows = page.QuerySelectorAll(".parts tbody tr").ToList();
        Assert.Equal(2, rows.Count);
        var other = rows.Single(r => !r.TextContent.Contains("this one", StringComparison.Ordinal))
                .QuerySelector("input[name=session]")!.GetAttribute("value")!;
        await second.PostAsync("/account", "/account?handler=Session", ("session", other));
        Assert.False(await IsInAsync(first));
        Assert.True(await IsInAsync(second));
        // A session of somebody else is not touched.
        var stranger = await OpenAsync(NewEmail());
        var mine = (await second.PageAsync("/account")).QuerySelector("input[name=session]")!.GetAttribute("value")!;
        await stranger.PostAsync("/account", "/account?handler=Session", ("session", mine));
        Assert.True(await IsInAsync(second));
    }

    [Fact]
    public async Task Failed_tries_slow_down_the_one_who_fails_and_nobody_else()
    {
        var email = NewEmail();
        var owner = await OpenAsync(email);
        var answers = new List<HttpResponseMessage>();
        for (var i = 0; i < 6; i++) answers.Add((await SignInAsync(email, "guess-number-" + i)).Answer);
        // Opening the studio was a try too.
        Assert.All(answers.Take(4), a => Assert.Equal(HttpStatusCode.OK, a.StatusCode));
        Assert.Equal(HttpStatusCode.TooManyRequests, answers[5].StatusCode);
        Assert.True(answers[5].Headers.RetryAfter!.Delta > TimeSpan.Zero);
        // The owner's session stands, and another account from the same place is not slowed down.
        Assert.True(await IsInAsync(owner));
        var neighbour = NewEmail();
        await OpenAsync(neighbour);
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(neighbour, Password)).Answer.StatusCode);
        // The demo is never slowed down.
        for (var i = 0; i < 8; i++) await SignInAsync("mira@kestrel.example", "wrong-password-" + i);
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync("mira@kestrel.example", "kestrel-lane-9")).Answer.StatusCode);
    }

    [Fact]
    public async Task Opening_studios_is_no_faster_way_to_guess_a_password()
    {
        var email = NewEmail();
        await OpenAsync(email);
        var statuses = new List<HttpStatusCode>();
        // The wait doubles with each failure, so that on a slow machine, too, it is soon longer than a try takes.
        for (var i = 0; i < 14 && !statuses.Contains(HttpStatusCode.TooManyRequests); i++)
            statuses.Add((await host.Visit()
                .PostAsync("/account/open", "/account/open", ("StudioName", "Guess"), ("Email", email),
                    ("Password", $"quiet-guess-{i}"))).StatusCode);
        Assert.Equal(HttpStatusCode.TooManyRequests, statuses[^1]);
        // Signing in waits as well; a wait that ran out meanwhile on a slow machine is followed by one twice as long.
        HttpStatusCode signedIn = default;
        for (var i = 0; i < 8 && signedIn != HttpStatusCode.TooManyRequests; i++)
            signedIn = (await SignInAsync(email, $"quiet-guess-too-{i}")).Answer.StatusCode;
        Assert.Equal(HttpStatusCode.TooManyRequests, signedIn);
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(4, 0)]
    [InlineData(5, 2)]
    [InlineData(8, 16)]
    [InlineData(1000, 900)]
    public void The_wait_after_failures_doubles_up_to_a_quarter_of_an_hour(int failures, int seconds) =>
        Assert.Equal(TimeSpan.FromSeconds(seconds), Accounts.SignInDelays.Delay(failures));

    [Fact]
    public async Task Whether_an_address_has_an_account_is_told_by_no_page()
    {
        var known = NewEmail();
        await OpenAsync(known);
        async Task<(HttpStatusCode, string)> Facts(HttpResponseMessage answer, string email)
        {
            var page = await Visitor.Read(answer);
            foreach (var secret in page.QuerySelectorAll("input[name=__RequestVerificationToken]")) secret.Remove();
            return (answer.StatusCode,
                (page.DocumentElement as IHtmlElement)!.OuterHtml.Replace(email, "EMAIL", StringComparison.Ordinal));
        }
        foreach (var address in new[] { "/account/sign-in", "/account/forgot" })
        {
            var unknown = NewEmail();
            (string, string)[] Fields(string email) => [("Email", email), ("Password", "wrong-password")];
            Assert.Equal(await Facts(await host.Visit().PostAsync(address, address, Fields(known)), known),
                await Facts(await host.Visit().PostAsync(address, address, Fields(unknown)), unknown));
        }
        // Opening a studio with an address that has one opens another, which sees nothing of the first; with the same password
        // it is the first.
        var other = await OpenAsync(known, "another-long-word");
        await other.TakeDownAsync("title: Of the Other\n| C |");
        var again = await OpenAsync(known);
        Assert.DoesNotContain("Of the Other", (await again.PageAsync("/songs")).Body!.TextContent, StringComparison.Ordinal);
        var (back, _) = await SignInAsync(known, "another-long-word");
        Assert.Contains("Of the Other", (await back.PageAsync("/songs")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Equal_registrations_at_once_open_one_studio()
    {
        var email = NewEmail();
        var visitors = Enumerable.Range(0, 4).Select(_ => host.Visit()).ToList();
        var answers = await Task.WhenAll(visitors.Select(v =>
            v.PostAsync("/account/open", "/account/open", ("StudioName", "Twice"), ("Email", email), ("Password", Password))));
        Assert.All(answers, a => Assert.Equal(HttpStatusCode.Redirect, a.StatusCode));
        await visitors[0].TakeDownAsync("title: Seen by All\n| C |");
        foreach (var visitor in visitors)
            Assert.Contains("Seen by All", (await visitor.PageAsync("/songs")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("short-one", "at least 12")]
    [InlineData("123456789012", "tried first")]
    [InlineData("password1234", "tried first")]
    [InlineData("qwertyuiopas", "tried first")]
    [InlineData("aaaaaaaaaaaaaa", "tried first")]
    [InlineData("quiet-blue-door", null)]
    [InlineData("тихая синяя дверь", null)]
    [InlineData("静かな青い扉の向こうで待つ", null)]
    public void Passwords_are_judged_by_length_and_by_what_is_tried_first(string password, string? fault)
    {
        var objection = Accounts.PasswordRules.Objection(password);
        if (fault is null) Assert.Null(objection);
        else Assert.Contains(fault, objection, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", 0, "at least 12")]
    [InlineData("qwertyuiopas", 0, "tried first")]
    [InlineData("kitchen-table", 1, "Another word")]
    [InlineData("quiet-blue-door", 2, "A good password")]
    [InlineData("lampshade gravel under eleven kites", 3, "very good")]
    public async Task How_hard_a_password_is_to_guess_is_said_while_it_is_typed(string password, int step, string words)
    {
        Assert.Equal(step, Accounts.PasswordRules.Strength(password).Step);
        Assert.Equal(step == 0, Accounts.PasswordRules.Objection(password) is not null);
        // A stranger may ask, on a page of ours only, and what is typed comes back nowhere.
        var visitor = host.Visit();
        var answer = await visitor.PostAsync("/account/open", "/account/strength", ("password", password));
        var said = await answer.Content.ReadAsStringAsync();
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        using var json = System.Text.Json.JsonDocument.Parse(said);
        Assert.Equal(step, json.RootElement.GetProperty("step").GetInt32());
        Assert.Contains(words, json.RootElement.GetProperty("words").GetString(), StringComparison.Ordinal);
        if (password.Length > 0) Assert.DoesNotContain(password, said, StringComparison.Ordinal);
        using var foreign = new FormUrlEncodedContent([new("password", password)]);
        Assert.Equal(HttpStatusCode.BadRequest, (await visitor.Client.PostAsync("/account/strength", foreign)).StatusCode);
    }

    [Theory]
    [InlineData("用户@例え.example", true)]
    [InlineData("jürgen@münchen.example", true)]
    [InlineData("plain@studio.example", true)]
    [InlineData("two words@studio.example", false)]
    [InlineData("nobody", false)]
    [InlineData("@studio.example", false)]
    [InlineData("a\u0007b@studio.example", false)]
    public async Task Addresses_of_any_script_work_and_what_is_none_is_said(string email, bool works)
    {
        var unique = works ? Guid.NewGuid().ToString("N")[..8] + email : email;
        var answer = await host.Visit()
            .PostAsync("/account/open", "/account/open", ("StudioName", "World"), ("Email", unique), ("Password", Password));
        Assert.Equal(works ? HttpStatusCode.Redirect : HttpStatusCode.OK, answer.StatusCode);
        if (works)
            Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(unique.ToUpperInvariant(), Password)).Answer.StatusCode);
        else
            Assert.Contains("not an email", (await Visitor.Read(answer)).QuerySelector("[role=alert]")!.TextContent,
                StringComparison.Ordinal);
    }

    /// <summary>The newest link that the stand-in received for an address.</summary>
    private async Task<string> LinkAsync(string email, string subject)
    {
        for (var i = 0; i < 100; i++)
        {
            var page = await host.Visit().PageAsync("/account/mail");
            var mail = page.QuerySelectorAll("article")
                .FirstOrDefault(a => a.TextContent.Contains(email, StringComparison.Ordinal)
                    && a.TextContent.Contains(subject, StringComparison.Ordinal));
            if (mail?.QuerySelector("a")?.GetAttribute("href") is { } link) return new Uri(link).PathAndQuery;
            await Task.Delay(50);
        }
        throw new InvalidOperationException("No mail came.");
    }

    [Fact]
    public async Task A_forgotten_password_is_chosen_anew_by_a_link_that_works_once()
    {
        var email = NewEmail();
        var owner = await OpenAsync(email);
        await host.Visit().PostAsync("/account/forgot", "/account/forgot", ("Email", email));
        var link = await LinkAsync(email, "A new password");
        var query = System.Web.HttpUtility.ParseQueryString(link.Split('?')[1]);
        Task<HttpResponseMessage> Choose(string password) =>
            host.Visit()
                .PostAsync(link, "/account/reset", ("user", query["user"]!), ("Token", query["token"]!), ("Password", password));
        Assert.Contains("tried first",
            (await Visitor.Read(await Choose("password1234"))).QuerySelector("[role=alert]")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await Choose("slow-green-gate")).StatusCode);
        Assert.False(await IsInAsync(owner));
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(email, "slow-green-gate")).Answer.StatusCode);
        Assert.Contains("This link was used",
            (await Visitor.Read(await Choose("third-red-fence"))).QuerySelector("[role=alert]")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_new_address_holds_once_its_link_is_opened()
    {
        var (email, newEmail) = (NewEmail(), NewEmail());
        var owner = await OpenAsync(email);
        Assert.Contains("not right",
            (await Visitor.Read(await owner.PostAsync("/account", "/account?handler=Email", ("password", "wrong-password"),
                    ("newEmail", newEmail)))).QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        await owner.PostAsync("/account", "/account?handler=Email", ("password", Password), ("newEmail", newEmail));
        var link = await LinkAsync(newEmail, "Your new address");
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(newEmail, Password)).Answer.StatusCode);
        var query = System.Web.HttpUtility.ParseQueryString(link.Split('?')[1]);
        await host.Visit()
            .PostAsync(link, "/account/address", ("user", query["user"]!), ("Email", query["email"]!),
                ("Token", query["token"]!));
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(newEmail, Password)).Answer.StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(email, Password)).Answer.StatusCode);
    }

    /// <summary>Six digits of an authenticator app (RFC 6238 with SHA-1 and steps of 30 seconds), reckoned here apart from the
    /// application.</summary>
    private static string Digits(string base32, int later = 0)
    {
        var bits = string.Concat(base32.Replace(" ", "", StringComparison.Ordinal)
            .Select(c => Convert.ToString("ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".IndexOf(c), 2).PadLeft(5, '0')));
        var key = Enumerable.Range(0, bits.Length / 8).Select(i => Convert.ToByte(bits.Substring(8 * i, 8), 2)).ToArray();
        var step = BitConverter.GetBytes(IPAddress.HostToNetworkOrder(DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30 + later));
#pragma warning disable CA5350 // the standard of authenticator apps
        var hash = HMACSHA1.HashData(key, step);
#pragma warning restore CA5350
        var at = hash[^1] & 15;
        var number = (hash[at] & 127) << 24 | hash[at + 1] << 16 | hash[at + 2] << 8 | hash[at + 3];
        return (number % 1_000_000).ToString("D6", System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public async Task A_second_factor_is_asked_for_and_a_recovery_code_lets_in_once()
    {
        var email = NewEmail();
        var owner = await OpenAsync(email);
        var setup = await Visitor.Read(await owner.PostAsync("/account", "/account?handler=Factor", ("password", Password)));
        var key = setup.QuerySelector("form[action$=FactorOn] code")!.TextContent;
        Assert.Equal("img", setup.QuerySelector("svg.drawing")!.GetAttribute("role"));
        var proof = setup.QuerySelector("input[name=proof]")!.GetAttribute("value")!;
        async Task<AngleSharp.Dom.IDocument> TurnOn(string code, string given) =>
            await Visitor.Read(await owner.PostAsync("/account", "/account?handler=FactorOn", ("code", code), ("proof", given)));
        // Whoever finds the browser open and has no password neither sees the key nor turns it on.
        foreach (var (code, given) in new[] { ("000000", ""), (Digits(key), ""), (Digits(key), "made-up") })
        {
            var refused = await TurnOn(code, given);
            Assert.Contains("Give your password", refused.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
            Assert.DoesNotContain(key, refused.Body!.TextContent, StringComparison.Ordinal);
        }
        var wrong = await TurnOn("000000", proof);
        Assert.Contains("does not fit", wrong.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(proof, wrong.QuerySelector("input[name=proof]")!.GetAttribute("value"));
        var used = Digits(key);
        var on = await TurnOn(used, proof);
        Assert.DoesNotContain(key, (await TurnOn("000000", proof)).Body!.TextContent, StringComparison.Ordinal);
        var codes = on.QuerySelectorAll(".recovery code").Select(c => c.TextContent).ToList();
        Assert.Equal(10, codes.Distinct().Count());
        async Task<HttpResponseMessage> Second(Visitor visitor, string code) =>
            await visitor.PostAsync("/account/second-factor", "/account/second-factor", ("Code", code));
        var (visitor, first) = await SignInAsync(email, Password);
        Assert.StartsWith("/account/second-factor", first.Headers.Location!.ToString(), StringComparison.Ordinal);
        Assert.False(await IsInAsync(visitor));
        Assert.Equal(HttpStatusCode.OK, (await Second(visitor, "123456")).StatusCode);
        Assert.False(await IsInAsync(visitor));
        // The code that turned it on has been used; one that was not lets in, and lets in once.
        Assert.Equal(HttpStatusCode.OK, (await Second(visitor, used)).StatusCode);
        Assert.False(await IsInAsync(visitor));
        var fresh = Digits(key, later: 1);
        var (other, _) = await SignInAsync(email, Password);
        var both = await Task.WhenAll(Second(visitor, fresh), Second(other, fresh));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Redirect], both.Select(a => a.StatusCode).Order());
        Assert.NotEqual(await IsInAsync(visitor), await IsInAsync(other));
        Assert.Equal(HttpStatusCode.OK, (await Second((await SignInAsync(email, Password)).Visitor, fresh)).StatusCode);
        // Neither the key nor a recovery code can be read from the database.
        await using (var connection = new Npgsql.NpgsqlConnection(host.ConnectionString))
        {
            await connection.OpenAsync();
            await using var command = new Npgsql.NpgsqlCommand(
                "select string_agg(value, ' ') from teacher_tokens t join teachers a on a.id = t.user_id where a.email = @email",
                connection);
            command.Parameters.AddWithValue("email", email);
            var stored = (string)(await command.ExecuteScalarAsync())!;
            Assert.All(codes.Append(key.Replace(" ", "", StringComparison.Ordinal)),
                secret => Assert.DoesNotContain(secret, stored, StringComparison.OrdinalIgnoreCase));
        }
        var (lost, _) = await SignInAsync(email, Password);
        Assert.Equal(HttpStatusCode.Redirect, (await Second(lost, codes[0])).StatusCode);
        var (again, _) = await SignInAsync(email, Password);
        Assert.Equal(HttpStatusCode.OK, (await Second(again, codes[0])).StatusCode);
        // Without the first step there is no second.
        Assert.Equal(HttpStatusCode.Redirect, (await host.Visit().Client.GetAsync("/account/second-factor")).StatusCode);
    }

    [Fact]
    public async Task Removing_the_account_leaves_nothing_of_the_studio()
    {
        var email = NewEmail();
        var owner = await OpenAsync(email);
        var song = await owner.TakeDownAsync("title: Gone\n| C |");
        await owner.AddStudentAsync("Fern");
        Assert.Contains("Write the name",
            (await Visitor.Read(
                    await owner.PostAsync("/account", "/account?handler=Remove", ("password", Password), ("name", "Other"))))
                .QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await owner.PostAsync("/account", "/account?handler=Remove", ("password", Password),
                ("name", "Quiet Room"))).StatusCode);
        Assert.False(await IsInAsync(owner));
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(email, Password)).Answer.StatusCode);
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        await using var command = new Npgsql.NpgsqlCommand($"select count(*) from songs where id = '{song}'", connection);
        Assert.Equal(0L, await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task The_demos_account_stays_as_it_is()
    {
        var visitor = await host.VisitDemoAsync();
        foreach (var handler in new[] { "Password", "Email", "Factor", "FactorOn", "FactorOff", "Remove" })
            await visitor.PostAsync("/studio", $"/account?handler={handler}", ("password", "kestrel-lane-9"),
                ("newPassword", "slow-green-gate"), ("newEmail", NewEmail()), ("name", "Kestrel Lane Guitar Room"));
        var other = await host.VisitDemoAsync();
        await visitor.PostAsync("/", "/account/sign-out");
        Assert.True(await IsInAsync(other));
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync("mira@kestrel.example", "kestrel-lane-9")).Answer.StatusCode);
    }
}
