namespace Tembri.Data.Studios;

/// <summary>A row of one studio. Queries see only the current studio's rows, and saving another's is refused.</summary>
public interface IStudioOwned
{
    Guid StudioId { get; set; }
}
