using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <content>Chords played in place of others, looked at by themselves, or gone from the chart.</content>
internal sealed partial class LadderModel
{
    /// <summary>What a chord was to be played as, when the chart speaks against it and the teacher has not said that she wants
    /// it all the same.</summary>
    public sealed record AskedInstead(string Symbol, WishScope Scope, string Section, string Reason,
        IReadOnlyList<GuardBreak> Breaks);

    /// <summary>The chord that waits for the teacher's word; null when none does.</summary>
    public AskedInstead? Asked { get; private set; }

    /// <summary>Plays another chord in place of one of the song, everywhere or in one section; what the chart says against it is
    /// told first.</summary>
    public Task<IActionResult> OnPostInsteadAsync(
        Guid id, Guid student, int rung, int chord, string? symbol, [EnumDataType(typeof(WishScope))] WishScope scope,
        string? apart, string? reason, bool overrule, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord)) return Task.FromResult<string?>(ChordIsGone);
            // a chord of this song is of this song alone
            if (scope is WishScope.Student or WishScope.Studio) scope = WishScope.Ladder;
            var text = (symbol ?? "").Trim();
            if (text.Length == 0)
                return Task.FromResult<string?>("Type the chord that is to be played, as it sounds, such as D or Am7.");
            if (!Chord.TryParse(text, out var typed))
                return Task.FromResult<string?>($"“{PlainText.OneLine(text)[..Math.Min(text.Length, 20)]}” is no chord symbol. "
                    + $"{ChordReader.Read(text).Error}");
            var key = Ladder.Chart.Key;
            var asked = Ladder.Flow.Chords[chord];
            // It is typed as it sounds; where the capo moves up the ladder stands at the pitch of the beginning.
            var (degree, plays) = (asked.DegreeIn(key), typed!.DegreeIn(key));
            if (!overrule && GuardBreaks.Of(Ladder.Guards[chord], asked, typed) is { Count: > 0 } breaks)
            {
                Asked = new AskedInstead(text, scope, apart ?? "", reason ?? "", breaks);
                return Task.FromResult<string?>($"{SubstitutionWords.Against(asked, typed, breaks, studio.NoteNames)} If you "
                    + "want it all the same, press “Play it anyway”.");
            }
            var wishes = decision.Wishes;
            if (asked.Section is null && Ladder.Chart.Sections.Any(s => s.Name == apart))
            {
                wishes = wishes.With(TeacherWishes.None with { Apart = [new SetApart(degree, apart!)] });
                degree += $"@{apart}";
            }
            var span = scope == WishScope.Rung ? RungSpan.Only(Rung(rung).Limits.Height)
                : scope == WishScope.Up ? RungSpan.Up(Rung(rung).Limits.Height)
                : RungSpan.All;
            var words = PlainText.OneLine(reason ?? "");
            decision.Wishes = wishes with
            {
                // The newest comes first, so that it stands before wider ones.
                Instead = [.. new[]
                {
                    new ChordInstead(degree, plays, span, words.Length <= LongestReason ? words : words[..LongestReason])
                }.Where(_ => typed.Name != asked.Name || span != RungSpan.All),
                    .. wishes.Instead.Where(i => i.Chord != degree || !span.Covers(i.Rungs))],
            };
            // A shape that was taken is one of the chord before.
            decision.Locks.RemoveAll(l => l.Chord == degree && Ladder.Find(l.Rung) is { } at && span.Holds(at.Limits.Height));
            decision.What =
                $"{typed.Named(studio.NoteNames).Name} for "
                    + $"{ChordName(chord)}{(string.IsNullOrEmpty(apart) ? "" : $" in {apart}")}{ScopeWords(scope)}";
            return Done;
        });

    private const int LongestReason = 80;

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
            return [.. Open.Locks.Select(l => l.Chord).Concat(wishes.Instead.Select(i => i.Chord)).Where(d => !there.Contains(d))
                .GroupBy(d => d).Select(g =>
            {
                var chord = Chord.OfDegree(g.Key, key);
                var likely = chord is null
                    ? -1
                    : Enumerable.Range(0, Ladder.Flow.Chords.Count)
                        .Where(i => Ladder.Flow.Chords[i].Root.PitchClass == chord.Root.PitchClass)
                    .OrderByDescending(i => Ladder.Flow.Chords[i].IsMinor == chord.IsMinor).Select(i => (int?)i).FirstOrDefault()
                    ?? -1;
                return new GoneChord(g.Key,
                    chord is null ? g.Key : chord.Named(studio.NoteNames).Name + (chord.Section is { } s ? $" of {s}" : ""),
                    g.Count(), likely);
            })];
        }
    }

    /// <summary>Carries what was decided for a chord that is gone over to one that the chart has, or lets it go.</summary>
    public Task<IActionResult> OnPostCarryAsync(Guid id, Guid student, string? degree, int? to, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, decision =>
        {
            if (Gone.FirstOrDefault(g => g.Degree == degree) is not { } gone)
                return Task.FromResult<string?>("The chart has this chord again; what was decided for it holds.");
            if (to is { } there && (there < 0 || there >= Ladder.Flow.Chords.Count))
                return Task.FromResult<string?>(ChordIsGone);
            var (moved, wishes) = (decision.Locks.Where(l => l.Chord == degree).ToList(), decision.Wishes);
            decision.Locks.RemoveAll(moved.Contains);
            var kept = wishes.Instead.Where(i => i.Chord != degree).ToList();
            if (to is { } chord)
            {
                var target = Degree(chord);
                // What is there already was decided later, so it stays.
                foreach (var l in moved.Where(l => !decision.Locks.Exists(
                    o => o.Rung == l.Rung && o.Chord == target && o.ShapeTonic == l.ShapeTonic && o.Strings == l.Strings)))
                    decision.Locks.Add(new LockedShape
                    {
                        SongId = id, StudentId = student, Rung = l.Rung, Chord = target, ShapeTonic = l.ShapeTonic,
                        Capo = l.Capo, Tuning = l.Tuning, Strings = l.Strings, Frets = l.Frets, Fingers = l.Fingers
                    });
                kept.AddRange(wishes.Instead.Where(
                        i => i.Chord == degree && !kept.Exists(k => k.Chord == target && k.Rungs.Meets(i.Rungs)))
                    .Select(i => i with { Chord = target }));
                decision.What = $"what was decided for {gone.Name} carried over to {ChordName(chord)}";
            }
            else decision.What = $"what was decided for {gone.Name} let go";
            decision.Wishes = wishes with { Instead = kept };
            return Done;
        });

    /// <summary>Looks at a chord of one section by itself.</summary>
    public Task<IActionResult> OnPostApartAsync(Guid id, Guid student, int rung, int chord, string? apart, int? revision,
        Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, decision =>
        {
            if (!ChordExists(rung, chord) || Ladder.Chart.Sections.All(s => s.Name != apart))
                return Task.FromResult<string?>(ChordIsGone);
            decision.Wishes = decision.Wishes.With(TeacherWishes.None with { Apart = [new SetApart(Degree(chord), apart!)] });
            decision.What = $"{ChordName(chord)} of {apart} by itself";
            return Done;
        });

    /// <summary>What can be said about the chord that is open: the sections it comes in, when there are more than one.</summary>
    public IReadOnlyList<string> SectionsOf(int chord)
    {
        var asked = Ladder.Flow.Chords[chord];
        if (asked.Section is not null) return [];
        var names = Ladder.Chart.Sections.Where(s => s.Bars.Any(b => b.Slots.Any(slot => asked.Equals(slot.Chord))))
            .Select(s => s.Name).Distinct().ToList();
        return names.Count > 1 ? names : [];
    }
}
