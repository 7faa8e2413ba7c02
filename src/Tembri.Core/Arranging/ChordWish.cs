using Tembri.Core.Chords;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;

namespace Tembri.Core.Arranging;

/// <summary>What a teacher wants of one chord of a song at one place, found out as far as it is asked for. For one thread at a
/// time.</summary>
public sealed class ChordWish
{
    private readonly TeacherWishes _wishes;
    private readonly IReadOnlyList<(ChordInstead Wish, Lazy<IReadOnlyList<Candidate>> Played)> _instead;
    private readonly IReadOnlyList<(OwnGrip Wish, Lazy<Candidate?> Played)> _grips;
    private readonly Lazy<IReadOnlyList<Candidate>> _standIns;

    /// <summary>Gathers the wishes for a chord.</summary>
    /// <param name="wishes">All wishes.</param>
    /// <param name="degree">The chord as <see cref="Chord.DegreeIn"/> writes it.</param>
    /// <param name="chord">The chord at the pitch of the shapes.</param>
    /// <param name="played">A chord of a degree, at the pitch of the shapes; null when there is none.</param>
    /// <param name="finder">Finds candidates.</param>
    /// <param name="book">The player's fingerings at the place.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="melody">The tune over the chord, as <see cref="Closeness.Of"/> takes it.</param>
    internal ChordWish(TeacherWishes wishes, string degree, Chord chord, Func<string, Chord?> played, CandidateFinder finder,
        FingeringBook book, Accompaniment accompaniment, int melody)
    {
        _wishes = wishes;
        IReadOnlyList<Candidate> Playing(Chord other, bool wanted) =>
            [.. finder.Playing(chord, other, book, accompaniment, melody).Select(c => c with { Wanted = wanted })];
        _instead = [.. wishes.Instead.Where(i => i.Chord == degree)
            .Select(i => (i,
                new Lazy<IReadOnlyList<Candidate>>(() => played(i.Plays) is { } other ? Playing(other, wanted: true) : [])))];
        _grips = [.. wishes.Grips.Where(g => !g.Always && g.Chord == chord.Name).Select(g => (g, new Lazy<Candidate?>(() =>
            book.Finder.Weigh(g.ToShape(), g.ToFingers()) is { } fingering
                ? finder.Locked(chord, fingering, accompaniment, melody, book.Neck.Guitar.Strings) with { Locked = false }
                : null)))];
        _standIns = new(() =>
            [.. wishes.StandIns.Select(s => On(s, chord)).OfType<Chord>().SelectMany(other => Playing(other, wanted: false))]);
        IsEmpty = _instead.Count == 0 && _grips.Count == 0 && wishes.StandIns.All(s => On(s, chord) is null)
            && wishes.Shapes.Count == 0 && wishes.Kinds.Count == 0;
    }

    /// <summary>True when nothing is wished for this chord.</summary>
    public bool IsEmpty { get; }

    /// <summary>What plays a chord of the teacher's own that can stand in for this one.</summary>
    public IReadOnlyList<Candidate> StandIns => _standIns.Value;

    /// <summary>All that the wishes bring to the chord, on whatever rung.</summary>
    public IEnumerable<Candidate> All =>
        _instead.SelectMany(i => i.Played.Value).Concat(StandIns).Concat(_grips.Select(g => g.Played.Value).OfType<Candidate>());

    /// <summary>What plays the chord that is wanted in place of this one on a rung; null when none is.</summary>
    public IReadOnlyList<Candidate>? Instead(RungLimits limits)
    {
        foreach (var (wish, played) in _instead)
            if (wish.Rungs.Holds(limits.Height) && played.Value.Count > 0) return played.Value;
        return null;
    }

    /// <summary>Why another chord is wanted on a rung; null when none is.</summary>
    public string? ReasonOn(RungLimits limits) =>
        _instead.Where(i => i.Wish.Rungs.Holds(limits.Height)).Select(i => i.Wish.Reason).FirstOrDefault();

    /// <summary>How the teacher plays the chord on a rung; null when she has no grip of her own for it, or this hand cannot hold
    /// it.</summary>
    public Candidate? Grip(RungLimits limits)
    {
        foreach (var (wish, played) in _grips) if (wish.Rungs.Holds(limits.Height)) return played.Value;
        return null;
    }

    /// <summary>True when the teacher forbade a candidate on a rung.</summary>
    public bool Forbids(Candidate c, RungLimits limits)
    {
        if (c.Locked) return false;
        foreach (var ban in _wishes.Shapes)
            if (ban.Rungs.Holds(limits.Height) && c.Fingering.Shape.Frets.SequenceEqual(ban.Frets)) return true;
        // A substitution she typed is wanted whatever the kinds that are not.
        if (c.Wanted || c.Kind == SubstitutionKind.Own) return false;
        foreach (var ban in _wishes.Kinds) if (ban.Kind == c.Kind && ban.Rungs.Holds(limits.Height)) return true;
        return false;
    }

    /// <summary>The chord a stand-in gives for a chord, on its root; null when it is for other chords.</summary>
    private static Chord? On(StandIn standIn, Chord chord)
    {
        if (!Chord.TryParse(standIn.Chord, out var from) || !Chord.TryParse(standIn.Plays, out var plays)) return null;
        if (from!.Kind != chord.Kind || from.Bass is null != chord.Bass is null) return null;
        var fifths = chord.Root.Fifths - from.Root.Fifths;
        var moved = from.MoveFifths(fifths);
        return moved.BassPitchClass == chord.BassPitchClass ? plays!.MoveFifths(fifths) : null;
    }
}
