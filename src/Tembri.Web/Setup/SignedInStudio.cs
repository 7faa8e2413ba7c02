using System.Security.Claims;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;

namespace Tembri.Web.Setup;

/// <summary>The studio of the teacher who is signed in.</summary>
internal sealed class SignedInStudio(IHttpContextAccessor accessor) : ICurrentStudio
{
    public const string ClaimType = "tembri:studio";

    /// <summary>A studio set for work outside a request, such as seeding.</summary>
    public Guid? Override { get; set; }

    public Guid? StudioId =>
        Override ?? (Guid.TryParse(accessor.HttpContext?.User.FindFirstValue(ClaimType), out var id) ? id : null);
}

/// <summary>Adds the studio to what a teacher's cookie says.</summary>
internal sealed class TeacherClaims(UserManager<Teacher> users,
    IOptions<IdentityOptions> options) : UserClaimsPrincipalFactory<Teacher>(users, options)
{
    protected override async Task<ClaimsIdentity> GenerateClaimsAsync(Teacher user)
    {
        var identity = await base.GenerateClaimsAsync(user);
        identity.AddClaim(new Claim(SignedInStudio.ClaimType, user.StudioId.ToString()));
        return identity;
    }
}
