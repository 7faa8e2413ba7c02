using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>Keeps the key of an authenticator app and the recovery codes sealed, so that who reads the database, or a backup of
/// it, cannot sign in with them.</summary>
/// <remarks>What was written before this was so is read as it is and sealed when it is written next. What cannot be opened,
/// because the keys are others', counts as absent: an operator resets the account.</remarks>
internal sealed class SealedTokens(TembriDbContext context, IDataProtectionProvider keys,
    IdentityErrorDescriber describer) : UserOnlyStore<Teacher, TembriDbContext, Guid>(context, describer)
{
    private readonly Seal _seal = new(keys, "Tembri.SecondFactor");

    public override Task SetTokenAsync(Teacher user, string loginProvider, string name, string? value,
        CancellationToken cancellationToken) =>
        base.SetTokenAsync(user, loginProvider, name, value is null ? null : _seal.Put(value), cancellationToken);

    public override async Task<string?> GetTokenAsync(Teacher user, string loginProvider, string name,
        CancellationToken cancellationToken) =>
        await base.GetTokenAsync(user, loginProvider, name, cancellationToken) is { } value ? _seal.Opened(value) : null;
}
