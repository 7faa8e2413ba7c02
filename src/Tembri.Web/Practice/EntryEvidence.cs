using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>What entries of a student's log are evidence for.</summary>
internal sealed class EntryEvidence
{
    private readonly EvidenceMaker _maker;
    private readonly Guitar _own;
    private readonly Dictionary<(string?, string?, int?), StrumPattern?> _patterns = [];   // a log has few, often

    public EntryEvidence(Student student) =>
        (_maker, _own) = (new EvidenceMaker(student.ToHand(), thumb: true), student.ToGuitar());

    /// <summary>An entry as evidence; null when it tells nothing of the skills: a note, minutes, shapes this hand cannot
    /// do.</summary>
    public Evidence? Of(PracticeEntry entry)
    {
        var guitar = EntryCheck.GuitarOf(entry.Guitar) ?? _own;
        var (from, to) = (Side(entry.FromFrets, entry.FromFingers), Side(entry.ToFrets, entry.ToFingers));
        switch (entry.Kind)
        {
            case PracticeKind.Changes when from is { } f && to is { } t && entry is { Count: { } count, Seconds: { } seconds }:
                return _maker.SecondsFor(guitar, entry.Capo, f, t) is > 0 and var reference
                    ? new ChangeCount(entry.At, reference, count, seconds, (f.Shape, t.Shape))
                    : null;
            case PracticeKind.Shape when to is { } t && entry is { Tries: { } tries, Count: { } clean }:
                return _maker.Tries(entry.At, guitar, entry.Capo, t.Shape, t.Fingers, tries, clean);
            case PracticeKind.Strum when PatternOf(entry) is { } pattern
                && entry.Tempo is { } tempo:
                return EvidenceMaker.Strum(entry.At, pattern, tempo, entry.Went ?? true);
            case PracticeKind.Clean when from is { } f && to is { } t && entry is { Tempo: { } at, FreeBeats: > 0 and var free }:
                return OfStretch(entry, guitar, f, t, free * 60 / at);
            default: return null;
        }
    }

    private StrumPattern? PatternOf(PracticeEntry entry)
    {
        var key = (entry.Pattern, entry.Meter, entry.Swing);
        return _patterns.TryGetValue(key, out var known)
            ? known
            : _patterns[key] = EntryCheck.PatternOf(entry.Pattern, entry.Meter, entry.Swing);
    }

    /// <summary>Load of the shape an entry tried, or reached by a change, 0 to 100; null when it tried none that this hand can
    /// do.</summary>
    public double? LoadOf(PracticeEntry entry) =>
        entry.Kind is PracticeKind.Shape or PracticeKind.Changes && Side(entry.ToFrets, entry.ToFingers) is { } to
        && _maker.Fingerings(EntryCheck.GuitarOf(entry.Guitar) ?? _own, entry.Capo, to.Shape, to.Fingers) is [var likeliest, ..]
        ? likeliest.Load.Value
        : null;

    /// <summary>A stretch that went had its hardest change in time, and the shape that is reached clean.</summary>
    private Trials? OfStretch(PracticeEntry entry, Guitar guitar, (Shape, IReadOnlyList<Finger>?) from,
        (Shape Shape, IReadOnlyList<Finger>? Fingers) to, double available)
    {
        if (_maker.SecondsFor(guitar, entry.Capo, from, to) is not (> 0 and var reference)) return null;
        if (_maker.Fingerings(guitar, entry.Capo, to.Shape, to.Fingers) is not [var reached, ..]) return null;
        return new Trials(entry.At, [Gate.OfChange(reference, available), .. _maker.Gates(guitar, entry.Capo, reached)], 1,
            entry.Went == false ? 0 : 1);
    }

    private static (Shape Shape, IReadOnlyList<Finger>? Fingers)? Side(int[]? frets, int[]? fingers) =>
        frets is { Length: 6 }
            ? (new Shape(frets), fingers is { Length: 6 } ? [.. fingers.Select(f => (Finger)f)] : null)
            : null;
}
