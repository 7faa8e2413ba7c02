using Microsoft.AspNetCore.Identity;

namespace Tembri.Data.Studios;

/// <summary>A teacher's account.</summary>
public sealed class Teacher : IdentityUser<Guid>
{
    public Guid StudioId { get; set; }
    public Studio? Studio { get; set; }
}
