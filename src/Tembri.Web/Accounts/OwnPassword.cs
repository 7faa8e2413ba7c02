using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>Asks somebody who is signed in for the password again, before something that cannot be undone or lets others
/// in.</summary>
internal sealed class OwnPassword(AccountDoor door, SignInDelays delays)
{
    /// <summary>What to say when the password is not right, or was tried too often; null when it is right.</summary>
    public async Task<string?> ObjectionAsync(Teacher teacher, string? password, HttpContext http)
    {
        var name = $"password {teacher.Id}";
        if (await delays.HoldOffAsync(name, http) is { } wait) return wait;
        if (await door.FitsAsync(teacher, password ?? ""))
        {
            await delays.SucceededAsync(name, http);
            return null;
        }
        await delays.FailedAsync(name, http);
        return "The password you have now is not right. Nothing was changed.";
    }
}
