using Tembri.Core.Students;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Ladders;

namespace Tembri.Web.Pages.Students;

/// <summary>A song in a student's list; the outline is null while it is still to be made.</summary>
/// <param name="Song">The song.</param>
/// <param name="Student">The student.</param>
/// <param name="Player">The student as the model sees one.</param>
/// <param name="Outline">The song's versions for the student's kind.</param>
/// <param name="IsWaiting">True while the outline may still come.</param>
public sealed record FitRow(SongLine Song, Student Student, Player Player, LadderOutline? Outline, bool IsWaiting)
{
    /// <summary>The rung to work on and how it fits; null when none can be played.</summary>
    public (int Number, VersionFit Fit)? Working
    {
        get
        {
            if (Outline is null) return null;
            return Outline.Grade(Player).WorkingRung is { } number
                ? (number, new VersionFit(Outline.Find(number)!, Player))
                : null;
        }
    }
}
