using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Core.Shapes;

namespace Tembri.Web.Sound;

/// <summary>What a shape sounds like, for a button that plays it.</summary>
internal static class Hearing
{
    /// <summary>MIDI numbers of a shape where a ladder is played, the lowest string first, between commas.</summary>
    public static string Pitches(Fingering fingering, Ladder ladder) => Pitches(fingering.Shape, ladder);

    /// <summary>The same for a shape nobody holds yet.</summary>
    public static string Pitches(Shape shape, Ladder ladder) =>
        string.Join(',', Performance.Pitches(shape, ladder.Capo + ladder.Chart.TuningShift, ladder.Chart.Strings));
}
