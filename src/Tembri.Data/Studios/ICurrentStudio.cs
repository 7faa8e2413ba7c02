namespace Tembri.Data.Studios;

/// <summary>Tells which studio the present request works for. Null outside a signed-in request: then no studio's rows are
/// visible.</summary>
public interface ICurrentStudio
{
    Guid? StudioId { get; }
}

/// <summary>A fixed studio, for seeding and for tests.</summary>
public sealed class FixedStudio(Guid? studioId) : ICurrentStudio
{
    public Guid? StudioId { get; } = studioId;
}
