using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <content>Shapes taken, freed and forbidden.</content>
internal sealed partial class LadderModel
{
    /// <summary>Takes a shape for a chord: on this rung, on it and those above, or in every song of the student or the
    /// studio.</summary>
    public Task<IActionResult> OnPostTakeAsync(
        Guid id, Guid student, int rung, int chord, [Range(0, NeckGeometry.HighestCapo)] int capo, string? frets,
        string? fingers, [EnumDataType(typeof(WishScope))] WishScope scope, int? revision, Guid? step) =>
        StepAsync(id, student, capo, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord) || LadderDecisions.FingeringOf(frets, fingers, Open) is not { } taken)
                return Task.FromResult<string?>("That shape could not be taken: it does not fit this hand and guitar, or the "
                    + "chart was changed meanwhile. The ladder below is up to date; choose again.");
            if (scope is WishScope.Student or WishScope.Studio && !HoldsInEverySong)
                return Task.FromResult<string?>("What holds in every song is a shape of standard tuning; in this tuning it "
                    + "sounds this chord, there another. Take it for this song.");
            LadderDecisions.Take(decision, Open, rung, chord, taken, scope);
            decision.What = $"{ChordName(chord)} as {taken.Shape} on rung {Rung(rung).Limits.Label}{ScopeWords(scope)}";
            return Done;
        });

    /// <summary>Frees a shape that was taken; one that is played in every song is freed there.</summary>
    public Task<IActionResult> OnPostFreeAsync(Guid id, Guid student, int rung, int chord, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord)) return Task.FromResult<string?>(ChordIsGone);
            var (degree, tonic, strings) = (Degree(chord), Ladder.ShapeKey.Tonic.PitchClass, LadderDesk.StringsOf(Open.Request));
            decision.What = $"{ChordName(chord)} freed on rung {Rung(rung).Limits.Label}";
            if (decision.Locks.RemoveAll(
                    l => l.Rung == rung && l.Chord == degree && l.ShapeTonic == tonic && l.Strings == strings) > 0)
            {
                if (decision.Locks.Count == 0) decision.Choice.GiveCapoBack();
            }
            else if (WiderGrip(rung, chord) is var (grip, forStudio))
            {
                decision.What = $"{ChordName(chord)} freed in every song";
                decision.Wider = new WiderChange(forStudio, TeacherWishes.None, TeacherWishes.None with { Grips = [grip] });
            }
            return Done;
        });

    /// <summary>True where shapes of every song are played, and can be taken: in standard tuning.</summary>
    public bool HoldsInEverySong => Ladder.Chart.Strings.Equals(Tuning.Standard);

    /// <summary>The grip that is played in every song and holds a chord on a rung; null when the shape was taken here, or not at
    /// all.</summary>
    public (OwnGrip Grip, bool ForStudio)? WiderGrip(int rung, int chord)
    {
        if (!HoldsInEverySong) return null;
        var (name, height) =
            (Ladder.Flow.Chords[chord].Transpose(Ladder.Chart.Key, Ladder.ShapeKey).Name, Rung(rung).Limits.Height);
        bool Holds(OwnGrip g) => g.Always && g.Chord == name && g.Rungs.Holds(height);
        if (Open.StudentWishes.Grips.FirstOrDefault(Holds) is { } own) return (own, false);
        return Open.StudioWishes.Grips.FirstOrDefault(Holds) is { } wide ? (wide, true) : null;
    }

    /// <summary>Forbids a shape or a kind of substitution.</summary>
    public Task<IActionResult> OnPostForbidAsync(
        Guid id, Guid student, int rung, int chord, string? frets, SubstitutionKind? kind,
        [EnumDataType(typeof(WishScope))] WishScope scope, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord)) return Task.FromResult<string?>(ChordIsGone);
            var span = scope == WishScope.Rung ? RungSpan.Only(Rung(rung).Limits.Height)
                : scope == WishScope.Up ? RungSpan.Up(Rung(rung).Limits.Height)
                : RungSpan.All;
            TeacherWishes ban;
            if (kind is { } which && Enum.IsDefined(which)
                && which is not (SubstitutionKind.None or SubstitutionKind.OtherFingering or SubstitutionKind.Own))
            {
                ban = TeacherWishes.None with { Kinds = [new KindBan(which, span)] };
                decision.What = $"forbade “{SubstitutionWords.Name(which)}”{ScopeWords(scope)}";
            }
            else if (LadderDecisions.ShapeOf(frets) is { } shape)
            {
                ban = TeacherWishes.None with { Shapes = [new ShapeBan(shape.Frets, span)] };
                decision.What = $"forbade {shape}{ScopeWords(scope)}";
                decision.Locks.RemoveAll(
                    l => l.Frets.SequenceEqual(shape.Frets) && Ladder.Find(l.Rung) is { } at && span.Holds(at.Limits.Height));
            }
            else return Task.FromResult<string?>("Choose a shape or a kind of substitution to forbid.");
            if (scope is WishScope.Student or WishScope.Studio)
                decision.Wider = new WiderChange(scope == WishScope.Studio, ban, TeacherWishes.None);
            else decision.Wishes = decision.Wishes.With(ban);
            return Done;
        });

    /// <summary>Takes one wish back.</summary>
    public Task<IActionResult> OnPostWithdrawAsync(Guid id, Guid student, string? wish, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            if (Wishes.FirstOrDefault(w => w.Id == wish) is not { } found)
                return Task.FromResult<string?>("That was taken back already. The ladder below is up to date.");
            decision.What = $"took back: {found.Words}";
            if (found.Scope is WishScope.Student or WishScope.Studio)
                decision.Wider = new WiderChange(found.Scope == WishScope.Studio, TeacherWishes.None, found.What);
            else decision.Wishes = decision.Wishes.Without(found.What);
            return Done;
        });
}
