using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Wishes;

namespace Tembri.Core.Classes;

/// <summary>Somebody who plays in a class.</summary>
/// <param name="Id">How the caller knows the player.</param>
/// <param name="Player">Hand, guitar and skill.</param>
/// <param name="Rungs">The rungs the player may be given, 1 to 5; at least one.</param>
public sealed record ClassPlayer(string Id, Player Player, IReadOnlyList<int> Rungs)
{
    /// <summary>The one capo the player is to use; null leaves it open.</summary>
    public int? Capo { get; init; }

    /// <summary>What the teacher wants the player to do in a section, by the section's place in the chart; the others go as
    /// advised.</summary>
    public IReadOnlyDictionary<int, SectionPart> Parts { get; init; } = new Dictionary<int, SectionPart>();

    /// <summary>What the teacher wants of chords and shapes for the player.</summary>
    public TeacherWishes Wishes { get; init; } = TeacherWishes.None;

    /// <summary>The same for players who are arranged for alike.</summary>
    internal string Kind =>
        field ??= $"{Player.Kind.Key} {Wishes.ToJson()} {(Player.Timed == Changes.TimedChanges.None ? "" : Id)}";

    internal ArrangementRequest Asking(Chart chart, Accompaniment accompaniment) =>
        new() { Chart = chart, Kind = Player.Kind, Timed = Player.Timed, Accompaniment = accompaniment, Wishes = Wishes };
}

/// <summary>Several players on one song: everything a class sheet depends on.</summary>
public sealed record ClassRequest
{
    /// <summary>The most players who are arranged for together.</summary>
    public const int MostPlayers = 40;

    /// <summary>The song, in the record's key.</summary>
    public required Chart Chart { get; init; }

    /// <summary>Who plays, at least one.</summary>
    public required IReadOnlyList<ClassPlayer> Players { get; init; }

    /// <summary>Capos 0 to this are looked at.</summary>
    public int HighestCapo { get; init; } = ArrangementRequest.DefaultHighestCapo;

    /// <summary>Beats a minute, above 0; null for the highest at which all keep up, see <see cref="ClassArranger"/>.</summary>
    public double? Tempo { get; init; }

    /// <summary>The one key everybody is to sound in, in semitones from the record; null leaves it open.</summary>
    public int? Semitones { get; init; }

    /// <summary>Fits that differ by less count as alike, 0 to 1: then the higher rung, the lower capo and the nearer key win. 0
    /// takes the best fit whatever it takes.</summary>
    public double Alike { get; init; }

    /// <summary>Who plays along.</summary>
    public Accompaniment Accompaniment { get; init; } = Accompaniment.Record;
}
