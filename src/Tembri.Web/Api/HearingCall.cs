using Tembri.Core.Charts;
using Tembri.Core.Hearing;
using Tembri.Web.Computing;
using Tembri.Web.Recordings;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/hearing</c>: what a recording tells of a chart, or a first chart of it.</summary>
internal static class HearingCall
{
    public sealed record BarItem(string Section, int Bar, int Pass, double Start, double End);

    public sealed record PlaceItem(string Section, int Bar, int Slot, string? Written, string Heard, bool Agrees,
        double Certainty);

    public sealed record FormItem(string Kind, string Section, int Bars, double At);

    public sealed record Answer(double Cents, int Semitones, double Tempo, bool Matches, double Agreement,
        IReadOnlyList<BarItem> Bars, IReadOnlyList<PlaceItem> Places, IReadOnlyList<FormItem> Form, string? Draft);

    public static async Task<Answer> HandleAsync(HttpRequest request, Uploads uploads, ComputeLanes lanes,
        CancellationToken leaving)
    {
        try
        {
            return await uploads.WithAsync(request, ofStranger: true, upload => lanes.ForHearingAsync(work =>
            {
                var chart = upload.Fields.TryGetValue("chart", out var text) && !string.IsNullOrWhiteSpace(text)
                    ? ChartFormats.Read(text, null, "chart", work.Cancel).Chart
                    : null;
                return Describe(Ear.Listen(upload.Sound, chart, cancel: work.Cancel), chart);
            }, leaving), leaving);
        }
        catch (FormatException e) { throw new ApiProblem("audio", e.Message); }
        catch (HearingRefusedException e) { throw new ApiProblem(e.IsOfChart ? "chart" : "audio", e.Message); }
    }

    private static Answer Describe(HearingResult heard, Chart? chart)
    {
        var sections = (chart ?? heard.Draft)?.Sections ?? [];
        return new Answer(
            Math.Round(heard.Cents, 1), heard.Semitones, Math.Round(heard.Tempo, 2), heard.Matches,
            Math.Round(heard.Agreement, 3),
            [.. heard.Bars.Select(
                b => new BarItem(sections[b.Section].Name, b.Bar + 1, b.Pass, Math.Round(b.Start, 3), Math.Round(b.End, 3)))],
            [.. heard.Places.Select(p => new PlaceItem(sections[p.Section].Name, p.Bar + 1, p.Slot + 1,
                sections[p.Section].Bars[p.Bar].Slots[p.Slot].Symbol, p.Heard.Name, p.Agrees, Math.Round(p.Certainty, 3)))],
            [.. heard.FormChanges.Select(c => new FormItem(c.Kind == FormChangeKind.More ? "more" : "less",
                sections[c.Section].Name, c.Bars, Math.Round(c.At, 2)))],
            chart is null && heard.Draft is { } draft ? ChartWriter.Write(draft) : null);
    }
}
