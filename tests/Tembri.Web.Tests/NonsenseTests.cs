using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;

namespace Tembri.Web.Tests;

/// <summary>Every form of every page, sent with fields no page would send.</summary>
public sealed class NonsenseTests(TembriHost host)
{
    private static readonly string[] Nonsense = ["2026-12-01", "1e309", "-5", "\0x", "x32010,<b>"];

    private static readonly string[] Ending = ["/erase", "handler=Remove", "sign-out", "handler=Session"];

    private static readonly string[] OfNobody =
    [
        "/account/sign-in", "/account/open", "/account/forgot", "/account/reset?id=1&token=2", "/account/second-factor",
        "/account/address?id=1&token=2",
    ];

    private static IEnumerable<string> OfStudio(string song, string student) =>
    [
        "/", "/songs", "/songs/new", "/songs/bring", "/students", "/students/new", "/lessons", "/sets", "/sheets", "/find",
        "/account", "/studio", "/studio/data", "/studio/grips", "/studio/guitars", "/studio/rungs",
        .. new[] { "changes", "figures", "ladder", "listen", "places", "right-hand", "sheet", "stage" }
            .Select(p => $"/songs/{song}/{p}/{student}"),
        .. new[] { "rungs", "steps", "compare", "hand" }.Select(p => $"/songs/{song}/ladder/{student}/{p}"),
        .. new[] { "", "/log", "/meeting", "/practice", "/records", "/road", "/erase" }.Select(p => $"/students/{student}{p}"),
        // The chart last: nonsense that is kept has no ladder.
        .. new[] { "class", "files", "history", "record", "remove", "chart" }.Select(p => $"/songs/{song}/{p}"),
    ];

    [Fact]
    public async Task No_form_of_any_page_answers_a_fault_whatever_is_sent_with_it()
    {
        var faults = new List<string>();
        var forms = await SendAsync(host.Visit(), OfNobody, faults);
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Tin Lantern\n[Verse]\n| F . Bb . | Gm | C7 . F . |\nstrum: D-du-udu");
        forms += await SendAsync(visitor, OfStudio(song, await visitor.AddStudentAsync("Fern")), faults);
        Assert.Empty(faults);
        Assert.InRange(forms, 60, 400);
    }

    /// <summary>Sends each kind of form: with all its fields nonsense, then with one of them at a time.</summary>
    /// <returns>The number of kinds.</returns>
    private static async Task<int> SendAsync(Visitor visitor, IEnumerable<string> pages, List<string> faults)
    {
        var seen = new HashSet<string>();
        foreach (var at in pages)
        {
            using var answer = await visitor.Client.GetAsync(at);
            if (answer.StatusCode != HttpStatusCode.OK) continue;
            var page = await Visitor.Read(answer);
            foreach (var form in page.QuerySelectorAll("form").Cast<IHtmlFormElement>())
            foreach (var address in Addresses(form, at))
            {
                var fields = form.QuerySelectorAll("[name]").Select(e => (Name: e.GetAttribute("name")!, Value: ValueOf(e)))
                    .ToList();
                // What would end the walk: the song, the student, the session.
                if (Ending.Any(e => address.Contains(e, StringComparison.Ordinal)) || !seen.Add($"{address} {string.Join(" ", fields.Select(f => f.Name).Distinct())}"))
                    continue;
                var isGet = form.GetAttribute("method") is not { } method || method == "get";
                bool Fixed(string name) => name == "__RequestVerificationToken";
                var single = fields.Select(f => f.Name).Where(n => !Fixed(n)).Distinct().ToList();
                var sent = Nonsense.Take(2).Select(n => fields.Select(f => (f.Name, Fixed(f.Name) ? f.Value : n)))
                    .Concat(single.Select((name, i) =>
                        fields.Select(f => (f.Name, f.Name == name ? Nonsense[i % Nonsense.Length] : f.Value))));
                foreach (var what in sent)
                {
                    using var content =
                        new FormUrlEncodedContent(what.Select(f => KeyValuePair.Create(f.Item1, f.Item2)));
                    var query = isGet ? $"?{await content.ReadAsStringAsync()}" : "";
                    using var said = isGet
                        ? await visitor.Client.GetAsync(address.Split('?')[0] + query)
                        : await visitor.Client.PostAsync(address, content);
                    if ((int)said.StatusCode >= 500)
                        faults.Add($"{(int)said.StatusCode} {at} {address} {await content.ReadAsStringAsync()}");
                }
            }
        }
        return seen.Count;
    }

    /// <summary>Where a form goes: its own address, and those of its buttons.</summary>
    private static IEnumerable<string> Addresses(IHtmlFormElement form, string at)
    {
        var own = form.GetAttribute("action") is { Length: > 0 } action ? action : at;
        return form.QuerySelectorAll("[formaction]").Select(b => b.GetAttribute("formaction")!).Prepend(own).Distinct()
            .Select(a => (a.StartsWith('?') ? at.Split('?')[0] + a : a).Split('#')[0]);
    }

    private static string ValueOf(IElement field) => field switch
    {
        IHtmlTextAreaElement text => text.DefaultValue,
        IHtmlSelectElement select => select.Value ?? "",
        _ => field.GetAttribute("value") ?? "",
    };
}
