using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <content>The teacher's steps on the ladder.</content>
internal sealed partial class LadderModel
{
    private static readonly Task<string?> Done = Task.FromResult<string?>(null);

    private const string ChordIsGone = "This chord is not in the song any more. The ladder below is up to date.";

    /// <summary>What a chord was to be played as, when the chart speaks against it and the teacher has not said that she wants it all the same.</summary>
    public sealed record AskedInstead(string Symbol, WishScope Scope, string Section, string Reason, IReadOnlyList<GuardBreak> Breaks);

    /// <summary>The chord that waits for the teacher's word; null when none does.</summary>
    public AskedInstead? Asked { get; private set; }

    /// <summary>What going back one step would take back, and what going on would do again; null where there is nothing.</summary>
    public (string? Undo, string? Redo) Around { get; private set; }

    /// <summary>Versions made by hand, with how they fit; nothing where one cannot be played any more.</summary>
    public IReadOnlyList<(HandVersion Row, HandMade? Made, VersionFit? Fit)> Hands { get; private set; } = [];

    private async Task FindStepsAsync()
    {
        Around = Open.Choice is { } choice ? await steps.AroundAsync(Open.Song.Id, Open.Student.Id, choice.StateNumber, HttpContext.RequestAborted) : default;
        Hands = [.. (await desk.HandsAsync(Open, HttpContext.RequestAborted)).Select(h => (h.Row, h.Made, h.Made is null ? null : new StudentLadder(h.Made.Ladder, Open.Graded.Player).FitOf(h.Made.Rung)))];
    }

    /// <summary>Takes a shape for a chord: on this rung, on it and those above, or in every song of the student or the studio.</summary>
    public Task<IActionResult> OnPostTakeAsync(
        Guid id, Guid student, int rung, int chord, [Range(0, NeckGeometry.HighestCapo)] int capo, string? frets, string? fingers, [EnumDataType(typeof(WishScope))] WishScope scope, int? revision, Guid? step) =>
        StepAsync(id, student, capo, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord) || LadderDecisions.FingeringOf(frets, fingers, Open) is not { } taken)
                return Task.FromResult<string?>("That shape could not be taken: it does not fit this hand and guitar, or the chart was changed meanwhile. The ladder below is up to date; choose again.");
            if (scope is WishScope.Student or WishScope.Studio && !HoldsInEverySong) return Task.FromResult<string?>("What holds in every song is a shape of standard tuning; in this tuning it sounds this chord, there another. Take it for this song.");
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
            if (decision.Locks.RemoveAll(l => l.Rung == rung && l.Chord == degree && l.ShapeTonic == tonic && l.Strings == strings) > 0)
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

    /// <summary>The grip that is played in every song and holds a chord on a rung; null when the shape was taken here, or not at all.</summary>
    public (OwnGrip Grip, bool ForStudio)? WiderGrip(int rung, int chord)
    {
        if (!HoldsInEverySong) return null;
        var (name, height) = (Ladder.Flow.Chords[chord].Transpose(Ladder.Chart.Key, Ladder.ShapeKey).Name, Rung(rung).Limits.Height);
        bool Holds(OwnGrip g) => g.Always && g.Chord == name && g.Rungs.Holds(height);
        if (Open.StudentWishes.Grips.FirstOrDefault(Holds) is { } own) return (own, false);
        return Open.StudioWishes.Grips.FirstOrDefault(Holds) is { } wide ? (wide, true) : null;
    }

    /// <summary>Plays another chord in place of one of the song, everywhere or in one section; what the chart says against it is told first.</summary>
    public Task<IActionResult> OnPostInsteadAsync(
        Guid id, Guid student, int rung, int chord, string? symbol, [EnumDataType(typeof(WishScope))] WishScope scope, string? apart, string? reason, bool overrule, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord)) return Task.FromResult<string?>(ChordIsGone);
            if (scope is WishScope.Student or WishScope.Studio) scope = WishScope.Ladder;   // a chord of this song is of this song alone
            var text = (symbol ?? "").Trim();
            if (text.Length == 0) return Task.FromResult<string?>("Type the chord that is to be played, as it sounds, such as D or Am7.");
            if (!Chord.TryParse(text, out var typed)) return Task.FromResult<string?>($"“{PlainText.OneLine(text)[..Math.Min(text.Length, 20)]}” is no chord symbol. {ChordReader.Read(text).Error}");
            var key = Ladder.Chart.Key;
            var asked = Ladder.Flow.Chords[chord];
            // It is typed as it sounds; where the capo moves up the ladder stands at the pitch of the beginning.
            var (degree, plays) = (asked.DegreeIn(key), typed!.DegreeIn(key));
            if (!overrule && GuardBreaks.Of(Ladder.Guards[chord], asked, typed) is { Count: > 0 } breaks)
            {
                Asked = new AskedInstead(text, scope, apart ?? "", reason ?? "", breaks);
                return Task.FromResult<string?>($"{SubstitutionWords.Against(asked, typed, breaks, studio.NoteNames)} If you want it all the same, press “Play it anyway”.");
            }
            var wishes = decision.Wishes;
            if (asked.Section is null && Ladder.Chart.Sections.Any(s => s.Name == apart))
            {
                wishes = wishes.With(TeacherWishes.None with { Apart = [new SetApart(degree, apart!)] });
                degree += $"@{apart}";
            }
            var span = scope == WishScope.Rung ? RungSpan.Only(Rung(rung).Limits.Height) : scope == WishScope.Up ? RungSpan.Up(Rung(rung).Limits.Height) : RungSpan.All;
            var words = PlainText.OneLine(reason ?? "");
            decision.Wishes = wishes with
            {
                // The newest comes first, so that it stands before wider ones.
                Instead = [.. new[] { new ChordInstead(degree, plays, span, words.Length <= LongestReason ? words : words[..LongestReason]) }.Where(_ => typed.Name != asked.Name || span != RungSpan.All), .. wishes.Instead.Where(i => i.Chord != degree || !span.Covers(i.Rungs))],
            };
            // A shape that was taken is one of the chord before.
            decision.Locks.RemoveAll(l => l.Chord == degree && Ladder.Find(l.Rung) is { } at && span.Holds(at.Limits.Height));
            decision.What = $"{typed.Named(studio.NoteNames).Name} for {ChordName(chord)}{(string.IsNullOrEmpty(apart) ? "" : $" in {apart}")}{ScopeWords(scope)}";
            return Done;
        });

    private const int LongestReason = 80;

    /// <summary>Forbids a shape or a kind of substitution.</summary>
    public Task<IActionResult> OnPostForbidAsync(
        Guid id, Guid student, int rung, int chord, string? frets, SubstitutionKind? kind, [EnumDataType(typeof(WishScope))] WishScope scope, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord)) return Task.FromResult<string?>(ChordIsGone);
            var span = scope == WishScope.Rung ? RungSpan.Only(Rung(rung).Limits.Height) : scope == WishScope.Up ? RungSpan.Up(Rung(rung).Limits.Height) : RungSpan.All;
            TeacherWishes ban;
            if (kind is { } which && Enum.IsDefined(which) && which is not (SubstitutionKind.None or SubstitutionKind.OtherFingering or SubstitutionKind.Own))
            {
                ban = TeacherWishes.None with { Kinds = [new KindBan(which, span)] };
                decision.What = $"forbade “{SubstitutionWords.Name(which)}”{ScopeWords(scope)}";
            }
            else if (LadderDecisions.ShapeOf(frets) is { } shape)
            {
                ban = TeacherWishes.None with { Shapes = [new ShapeBan(shape.Frets, span)] };
                decision.What = $"forbade {shape}{ScopeWords(scope)}";
                decision.Locks.RemoveAll(l => l.Frets.SequenceEqual(shape.Frets) && Ladder.Find(l.Rung) is { } at && span.Holds(at.Limits.Height));
            }
            else return Task.FromResult<string?>("Choose a shape or a kind of substitution to forbid.");
            if (scope is WishScope.Student or WishScope.Studio) decision.Wider = new WiderChange(scope == WishScope.Studio, ban, TeacherWishes.None);
            else decision.Wishes = decision.Wishes.With(ban);
            return Done;
        });

    /// <summary>Takes one wish back.</summary>
    public Task<IActionResult> OnPostWithdrawAsync(Guid id, Guid student, string? wish, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            if (Wishes.FirstOrDefault(w => w.Id == wish) is not { } found) return Task.FromResult<string?>("That was taken back already. The ladder below is up to date.");
            decision.What = $"took back: {found.Words}";
            if (found.Scope is WishScope.Student or WishScope.Studio) decision.Wider = new WiderChange(found.Scope == WishScope.Studio, TeacherWishes.None, found.What);
            else decision.Wishes = decision.Wishes.Without(found.What);
            return Done;
        });

    /// <summary>What was decided for a chord that the chart does not have any more.</summary>
    /// <param name="Degree">The chord, as <see cref="Chord.DegreeIn"/> writes it.</param>
    /// <param name="Name">Its name in the song's key.</param>
    /// <param name="Count">Decisions that rest with it.</param>
    /// <param name="Likely">The chord of the chart that may have taken its place; −1 when none is likely.</param>
    public sealed record GoneChord(string Degree, string Name, int Count, int Likely);

    /// <summary>Chords with decisions that the chart does not have any more.</summary>
    public IReadOnlyList<GoneChord> Gone
    {
        get
        {
            var key = Ladder.Chart.Key;
            var there = Ladder.Flow.Chords.Select(c => c.DegreeIn(key)).ToHashSet();
            var wishes = TeacherWishes.Read(Open.Choice?.Wishes);
            return [.. Open.Locks.Select(l => l.Chord).Concat(wishes.Instead.Select(i => i.Chord)).Where(d => !there.Contains(d)).GroupBy(d => d).Select(g =>
            {
                var chord = Chord.OfDegree(g.Key, key);
                var likely = chord is null ? -1 : Enumerable.Range(0, Ladder.Flow.Chords.Count).Where(i => Ladder.Flow.Chords[i].Root.PitchClass == chord.Root.PitchClass)
                    .OrderByDescending(i => Ladder.Flow.Chords[i].IsMinor == chord.IsMinor).Select(i => (int?)i).FirstOrDefault() ?? -1;
                return new GoneChord(g.Key, chord is null ? g.Key : chord.Named(studio.NoteNames).Name + (chord.Section is { } s ? $" of {s}" : ""), g.Count(), likely);
            })];
        }
    }

    /// <summary>Carries what was decided for a chord that is gone over to one that the chart has, or lets it go.</summary>
    public Task<IActionResult> OnPostCarryAsync(Guid id, Guid student, string? degree, int? to, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            if (Gone.FirstOrDefault(g => g.Degree == degree) is not { } gone) return Task.FromResult<string?>("The chart has this chord again; what was decided for it holds.");
            if (to is { } there && (there < 0 || there >= Ladder.Flow.Chords.Count)) return Task.FromResult<string?>(ChordIsGone);
            var (moved, wishes) = (decision.Locks.Where(l => l.Chord == degree).ToList(), decision.Wishes);
            decision.Locks.RemoveAll(moved.Contains);
            var kept = wishes.Instead.Where(i => i.Chord != degree).ToList();
            if (to is { } chord)
            {
                var target = Degree(chord);
                // What is there already was decided later, so it stays.
                foreach (var l in moved.Where(l => !decision.Locks.Exists(o => o.Rung == l.Rung && o.Chord == target && o.ShapeTonic == l.ShapeTonic && o.Strings == l.Strings)))
                    decision.Locks.Add(new LockedShape { SongId = id, StudentId = student, Rung = l.Rung, Chord = target, ShapeTonic = l.ShapeTonic, Capo = l.Capo, Tuning = l.Tuning, Strings = l.Strings, Frets = l.Frets, Fingers = l.Fingers });
                kept.AddRange(wishes.Instead.Where(i => i.Chord == degree && !kept.Exists(k => k.Chord == target && k.Rungs.Meets(i.Rungs))).Select(i => i with { Chord = target }));
                decision.What = $"what was decided for {gone.Name} carried over to {ChordName(chord)}";
            }
            else decision.What = $"what was decided for {gone.Name} let go";
            decision.Wishes = wishes with { Instead = kept };
            return Done;
        });

    /// <summary>Looks at a chord of one section by itself.</summary>
    public Task<IActionResult> OnPostApartAsync(Guid id, Guid student, int rung, int chord, string? apart, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord) || Ladder.Chart.Sections.All(s => s.Name != apart)) return Task.FromResult<string?>(ChordIsGone);
            decision.Wishes = decision.Wishes.With(TeacherWishes.None with { Apart = [new SetApart(Degree(chord), apart!)] });
            decision.What = $"{ChordName(chord)} of {apart} by itself";
            return Done;
        });

    /// <summary>Takes a rung in between, near to a load on the trade-off curve.</summary>
    public Task<IActionResult> OnPostBetweenAsync(Guid id, Guid student, [Range(0.0, 100.0)] double load, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            var below = Ladder.Playable.Where(r => !r.Limits.IsBetween).LastOrDefault(r => r.Load <= load)?.Number;
            if (below is not { } number || Ladder.Find(number + 1) is not PlayableRung) return Task.FromResult<string?>("A rung in between needs a rung below it and one above it.");
            var between = OwnRungs.Between(number);
            decision.Wishes = decision.Wishes with { Rungs = [.. decision.Wishes.Rungs.Where(r => r.Number != between), new RungWish(between) { AimsAtLoad = load }] };
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
            decision.Wishes = decision.Wishes with { Rungs = gone.Limits.IsBetween ? [.. others] : [.. others, (decision.Wishes.Rungs.FirstOrDefault(r => r.Number == rung) ?? new RungWish(rung)) with { LeftOut = true }] };
            decision.What = $"rung {gone.Limits.Label} left out";
            return Done;
        });

    /// <summary>Goes back one step.</summary>
    public Task<IActionResult> OnPostUndoAsync(Guid id, Guid student, int? revision, Guid? step) => MovedAsync(id, student, () => steps.UndoAsync(id, student, revision, step, HttpContext.RequestAborted));

    /// <summary>Goes on one step that was taken back.</summary>
    public Task<IActionResult> OnPostRedoAsync(Guid id, Guid student, int? revision, Guid? step) => MovedAsync(id, student, () => steps.RedoAsync(id, student, revision, step, HttpContext.RequestAborted));

    private async Task<IActionResult> MovedAsync(Guid id, Guid student, Func<Task<(StepEnd End, string? Why)>> move)
    {
        if (!await SongAndStudentAsync(id, student)) return NotFound();
        var (end, why) = await move();
        if (await LoadAsync(id, student, null) is { } elsewhere) return elsewhere;
        return end switch
        {
            StepEnd.Elsewhere => await RefuseAsync(StatusCodes.Status409Conflict, why!, null, null),
            StepEnd.Refused => await RefuseAsync(StatusCodes.Status200OK, why!, null, null),
            _ => Request.IsFromScript() ? await AnswerAsync(null, null) : Redirect(PathHere),
        };
    }

    private async Task<bool> SongAndStudentAsync(Guid id, Guid student) => await context.Songs.AnyAsync(s => s.Id == id) && await context.Students.AnyAsync(s => s.Id == student);

    /// <summary>Keeps a capo, or with none given lets the arranger choose.</summary>
    public Task<IActionResult> OnPostCapoAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int? capo, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            decision.Choice.DecideCapo(capo);
            if (capo is null) (decision.Choice.Tuning, decision.Choice.Strings) = (null, null);
            decision.What = capo is null ? "place freed" : capo == 0 ? "no capo" : $"capo {capo}";
            return Done;
        });

    /// <summary>Keeps a place: a capo and a tuning of the guitar, with its strings where they are not as usual.</summary>
    public Task<IActionResult> OnPostPlaceAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int capo, [Range(-7, 7)] int tuning, [StringLength(LadderChoice.LongestStrings)] string? strings, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            var usual = Open.Request with { Strings = null, Tuning = null };
            if (!Tuning.TryParse(strings ?? usual.TunedChart.Strings.Name, out var chosen)) return Task.FromResult<string?>($"“{strings}” is not a tuning. Choose one of the tunings on the page of places.");
            decision.Choice.Strings = chosen.Equals(usual.TunedChart.Strings) ? null : chosen.Name;
            decision.Choice.DecideCapo(capo);
            decision.Choice.Tuning = tuning == (decision.Choice.Strings is null ? usual : usual with { Strings = chosen }).TunedChart.TuningShift ? null : tuning;
            decision.What = $"{(capo == 0 ? "no capo" : $"capo {capo}")}, {(decision.Choice.Strings ?? "tuning")} chosen";
            return Done;
        });

    /// <summary>Sets what the place is for and who plays along; the place is chosen anew.</summary>
    public Task<IActionResult> OnPostAimAsync(Guid id, Guid student, [EnumDataType(typeof(Aim))] Aim aim, [EnumDataType(typeof(Accompaniment))] Accompaniment company, VoiceForm voice, int? revision, Guid? step) =>
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

    /// <summary>One decision of the teacher: made on the ladder she saw, once, or refused with the reason.</summary>
    /// <param name="id">The song.</param>
    /// <param name="student">The student.</param>
    /// <param name="capo">A capo that is only looked at, at which the step is made.</param>
    /// <param name="revision">The count of decisions that was on the page.</param>
    /// <param name="step">Names the step, so that the same one sent again is not refused; null without script.</param>
    /// <param name="rung">The rung whose chord is open afterwards.</param>
    /// <param name="chord">That chord.</param>
    /// <param name="decide">Writes the decision; answers why it cannot be, or null.</param>
    private async Task<IActionResult> StepAsync(Guid id, Guid student, int? capo, int? revision, Guid? step, int? rung, int? chord, Func<Decision, Task<string?>> decide)
    {
        if (!ModelState.IsValid) capo = null;
        if (await LoadAsync(id, student, capo) is { } elsewhere) return elsewhere;
        if (!ModelState.IsValid) return await RefuseAsync(StatusCodes.Status400BadRequest, "What was sent is not something this ladder has: a capo is 0 to 11, a tuning −7 to 7, a load 0 to 100. Nothing was changed.", rung, chord);
        var (end, why) = await steps.MakeAsync(id, student, revision, step, decide, HttpContext.RequestAborted);
        if (end == StepEnd.Made && !Request.IsFromScript()) return Redirect(rung is null ? PathHere : $"{PathHere}?rung={rung}&chord={chord}#bench");
        var (asked, typed) = (Asked, Typed);
        if (await LoadAsync(id, student, null) is { } gone) return gone;
        (Asked, Typed) = (asked, typed);
        return end switch
        {
            StepEnd.Elsewhere => await RefuseAsync(StatusCodes.Status409Conflict, why!, rung, chord),
            StepEnd.Refused => await RefuseAsync(StatusCodes.Status200OK, why!, rung, chord),
            _ => await AnswerAsync(rung, chord),
        };
    }

    private string ChordName(int chord) => Ladder.Flow.Chords[chord].Named(studio.NoteNames).Name;

    private string ScopeWords(WishScope scope) => scope switch
    {
        WishScope.Rung => "",
        WishScope.Up => " and above",
        WishScope.Ladder => " on every rung",
        WishScope.Student => $" in every song of {Open.Student.Nickname}’s",
        _ => " in every song of the studio",
    };

    /// <summary>What the teacher wants on this ladder, for the student and in the studio, with the words for each.</summary>
    public IReadOnlyList<WishLine> Wishes => field ??= WishLine.Of(Open, studio.NoteNames);

    /// <summary>What can be said about the chord that is open: the sections it comes in, when there are more than one.</summary>
    public IReadOnlyList<string> SectionsOf(int chord)
    {
        var asked = Ladder.Flow.Chords[chord];
        if (asked.Section is not null) return [];
        var names = Ladder.Chart.Sections.Where(s => s.Bars.Any(b => b.Slots.Any(slot => asked.Equals(slot.Chord)))).Select(s => s.Name).Distinct().ToList();
        return names.Count > 1 ? names : [];
    }
}
