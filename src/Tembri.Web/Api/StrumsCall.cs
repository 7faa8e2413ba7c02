using System.Text.Json;
using Tembri.Core;
using Tembri.Core.Music;
using Tembri.Core.Strums;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/strums</c>: what a pattern asks of the right hand, and its five rungs.</summary>
internal static class StrumsCall
{
    public sealed record Request(string? Meter, string? Pattern, double? Tempo, int? Swing);

    public sealed record PartItem(string Technique, double Amount, double Effort, string Words);

    public sealed record RungItem(int Number, string Name, string Pattern, double Load, double KeptPercent, bool SameAsBelow,
        IReadOnlyList<string> Keeps, string Reason);

    public sealed record PieceItem(int From, int To, string Say, int? SameAs);

    public sealed record Answer(
        string Name, string Pattern, int Bars, int StepsPerBeat, IReadOnlyList<string> Steps, IReadOnlyList<string> Count,
        string Spoken, double Load, IReadOnlyList<PartItem> Parts, IReadOnlyList<RungItem> Rungs,
        IReadOnlyList<PieceItem> Pieces);

    private const double SlowestTempo = 20, FastestTempo = 320;

    public static Answer Handle(Request request, ResultCache results)
    {
        var tempo = ToTempo(request.Tempo ?? 90, "tempo");
        var pattern = ToPattern(request.Pattern, request.Meter, request.Swing);
        var ladder = StrumLadder.Of(pattern, results);
        return new Answer(
            StrumWords.Name(pattern), pattern.Notation, pattern.Bars, pattern.StepsPerBeat,
            [.. pattern.Steps.Select(s => s.ToString())], pattern.Count, pattern.SpokenCount,
            Math.Round(pattern.LoadAt(tempo), 1),
            [.. StrumEffort.Parts(pattern, tempo)
                .Select(p => new PartItem(JsonNamingPolicy.CamelCase.ConvertName(p.Part.ToString()), Math.Round(p.Amount, 3),
                    Math.Round(p.Effort, 3), StrumWords.Say(p)))],
            [.. ladder.Rungs.Select(r => new RungItem(
                r.Number, StrumWords.Rung(r.Number, pattern.IsPicked), r.Pattern.Notation,
                Math.Round(r.Pattern.LoadAt(tempo), 1), Math.Round(100 * r.Kept, 1), r.SameAsBelow,
                StrumWords.Keeps(pattern, r.Pattern),
                StrumWords.Reason(pattern, ladder.At(Math.Min(r.Number + 1, StrumLadder.Top)), r.Pattern, r.Number)))],
            [.. PatternPieces.Of(pattern)
                .Select(p => new PieceItem(p.From, p.To, StrumWords.Spoken(pattern, p.From, p.To), p.SameAs))]);
    }

    /// <summary>Reads a pattern with its meter.</summary>
    /// <param name="text">A letter a step.</param>
    /// <param name="written">The meter; 4/4 when left out.</param>
    /// <param name="percent">Swing, percent of the beat; straight when left out.</param>
    /// <param name="within">What the names of the fields begin with.</param>
    public static StrumPattern ToPattern(string? text, string? written, int? percent, string within = "")
    {
        var meter = Meter.Common;
        if (written is not null && !Meter.TryParse(written, out meter))
            throw new ApiProblem($"{within}meter", $"'{written}' is not a meter; write one such as 4/4 or 6/8.");
        var swing = percent ?? StrumPattern.Straight;
        if (swing is < StrumPattern.Straight or > StrumPattern.MostSwing)
            throw new ApiProblem($"{within}swing",
                $"Swing is {StrumPattern.Straight} to {StrumPattern.MostSwing} percent of the beat.");
        if (string.IsNullOrWhiteSpace(text))
            throw new ApiProblem($"{within}pattern", "This pattern is missing; write a letter a step, such as D-du-udu.");
        return StrumPattern.TryParse(text, meter, out var pattern, out var fault, swing)
            ? pattern
            : throw new ApiProblem($"{within}pattern", fault);
    }

    /// <summary>A tempo within range.</summary>
    public static double ToTempo(double tempo, string field) =>
        tempo is >= SlowestTempo and <= FastestTempo
            ? tempo
            : throw new ApiProblem(field, $"A tempo is {SlowestTempo} to {FastestTempo} beats a minute.");
}
