using Microsoft.AspNetCore.Identity;
using Tembri.Data.Studios;

namespace Tembri.Data.Accounts;

/// <summary>A teacher's account. Several may have the same email address: an address alone never tells whether it has one, and
/// nobody can take another's.</summary>
public sealed class Teacher : IdentityUser<Guid>
{
    public Guid StudioId { get; set; }
    public Studio? Studio { get; set; }
    public DateTimeOffset OpenedAt { get; set; }

    /// <summary>True for who may see the operator's page; set by the command line only.</summary>
    public bool IsOperator { get; set; }

    /// <summary>The 30-second step, counted from 1970, of the last code of an authenticator app that was used; null before the
    /// first.</summary>
    public long? LastCodeStep { get; set; }
}
