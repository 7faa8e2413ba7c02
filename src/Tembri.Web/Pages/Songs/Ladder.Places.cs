using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <content>Where a song is played, and which rungs there are.</content>
internal sealed partial class LadderModel
{
    /// <summary>Keeps a capo, or with none given lets the arranger choose.</summary>
    public Task<IActionResult> OnPostCapoAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int? capo,
        int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            decision.Choice.DecideCapo(capo);
            if (capo is null) (decision.Choice.Tuning, decision.Choice.Strings) = (null, null);
            decision.What = capo is null ? "place freed" : capo == 0 ? "no capo" : $"capo {capo}";
            return Done;
        });

    /// <summary>Keeps a place: a capo and a tuning of the guitar, with its strings where they are not as usual.</summary>
    public Task<IActionResult> OnPostPlaceAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int capo,
        [Range(-7, 7)] int tuning, [StringLength(LadderChoice.LongestStrings)] string? strings, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            var usual = Open.Request with { Strings = null, Tuning = null };
            if (!Tuning.TryParse(strings ?? usual.TunedChart.Strings.Name, out var chosen))
                return Task.FromResult<string?>(
                    $"“{strings}” is not a tuning. Choose one of the tunings on the page of places.");
            decision.Choice.Strings = chosen.Equals(usual.TunedChart.Strings) ? null : chosen.Name;
            decision.Choice.DecideCapo(capo);
            decision.Choice.Tuning = tuning
                    == (decision.Choice.Strings is null ? usual : usual with { Strings = chosen }).TunedChart.TuningShift
                ? null
                : tuning;
            decision.What = $"{(capo == 0 ? "no capo" : $"capo {capo}")}, {(decision.Choice.Strings ?? "tuning")} chosen";
            return Done;
        });

    /// <summary>Sets what the place is for and who plays along; the place is chosen anew.</summary>
    public Task<IActionResult> OnPostAimAsync(Guid id, Guid student, [EnumDataType(typeof(Aim))] Aim aim,
        [EnumDataType(typeof(Accompaniment))] Accompaniment company, VoiceForm voice, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            var choice = decision.Choice;
            (choice.Aim, choice.Accompaniment) = (aim, company);
            choice.DecideCapo(null);
            decision.What = $"arranged anew: {LadderWords.Offer(aim)}";
            if (aim != Aim.Voice) return Done;
            if (voice.Fault(Open.Reading.Chart) is { } fault)
            {
                Typed = voice;
                return Task.FromResult<string?>(fault);
            }
            (choice.Voice, choice.Tune) = voice.Written(Open.Reading.Chart);
            return Done;
        });

    /// <summary>Moves the capo up where the song's end lies higher, or plays all of it at one place.</summary>
    public Task<IActionResult> OnPostLiftAsync(Guid id, Guid student, bool up, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            decision.Choice.CapoUp = up;
            decision.What = up ? "capo moved up for the end" : "one place for all of the song";
            return Done;
        });

    /// <summary>Takes a rung in between, near to a load on the trade-off curve.</summary>
    public Task<IActionResult> OnPostBetweenAsync(Guid id, Guid student, [Range(0.0, 100.0)] double load, int? revision,
        Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            var below = Ladder.Playable.Where(r => !r.Limits.IsBetween).LastOrDefault(r => r.Load <= load)?.Number;
            if (below is not { } number || Ladder.Find(number + 1) is not PlayableRung)
                return Task.FromResult<string?>("A rung in between needs a rung below it and one above it.");
            var between = OwnRungs.Between(number);
            decision.Wishes = decision.Wishes with { Rungs = [.. decision.Wishes.Rungs.Where(r => r.Number != between),
                new RungWish(between) { AimsAtLoad = load }] };
            decision.What = $"rung {RungLimits.LabelOf(between)} taken in between, load {load:0}";
            return Done;
        });

    /// <summary>Leaves a rung out, or takes it in again.</summary>
    public Task<IActionResult> OnPostRungOutAsync(Guid id, Guid student, int rung, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            if (Ladder.Find(rung) is not { } gone) return Task.FromResult<string?>("The ladder has no such rung any more.");
            if (Ladder.Rungs.Count <= 1) return Task.FromResult<string?>("One rung is the least a ladder has.");
            var others = decision.Wishes.Rungs.Where(r => r.Number != rung);
            decision.Wishes = decision.Wishes with { Rungs = gone.Limits.IsBetween
                ? [.. others]
                : [.. others,
                    (decision.Wishes.Rungs.FirstOrDefault(r => r.Number == rung) ?? new RungWish(rung))
                        with { LeftOut = true }] };
            decision.What = $"rung {gone.Limits.Label} left out";
            return Done;
        });
}
