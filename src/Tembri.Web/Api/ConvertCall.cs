using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Formats;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/convert</c>: a chart, or one rung's version of it, in another format.</summary>
internal static class ConvertCall
{
    public sealed record Request(string? Chart, string? From, string? To, int? Rung);

    public static IResult Handle(Request request, WorkLimits work, LadderShelf ladders)
    {
        var format = ChartFormats.ToFormat(request.To, "to");
        if (request.Rung is < 1 or > 5)
            throw new ApiProblem("rung",
                $"Rung {request.Rung} does not exist; use 1 to 5, or leave it out for the record's chart.");
        var chart = ChartFormats.Read(request.Chart, request.From, "from", work.Cancel).Chart;
        // A MIDI file needs shapes: the record's own are those of the top rung where the record has its capo.
        if (request.Rung is null && format != ChartFormat.Midi) return File(ChartFiles.Write(chart, format));
        if (LadderBuilder.Objection(chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
        var asked = new ArrangementRequest
        {
            Chart = chart, Kind = PlayerKind.Usual, Capo = request.Rung is null ? chart.RecordCapo : null
        };
        var ladder = ladders.Get($"{request.From} {request.Chart}", asked, work);
        return ladder.Rungs[(request.Rung ?? ladder.Rungs.Count) - 1] switch
        {
            PlayableRung rung => File(ChartFiles.Write(new VersionChart(ladder, rung), format)),
            BlockedRung rung =>
                throw new ApiProblem("rung", $"Rung {rung.Number} cannot be played: {ShapeWords.Say(rung, NoteNames.AsKey)}"),
            _ => throw new InvalidOperationException("A rung is playable or blocked."),
        };
    }

    private static IResult File(WrittenChart written) => Results.Bytes(written.Bytes, written.MediaType);
}
