using Microsoft.AspNetCore.Identity;

namespace Tembri.Web.Tests;

/// <summary>Takes off what makes a password slow to guess: a run opens and enters some hundred studios, each of which would cost
/// half a second of processor time.</summary>
public static class LightPasswords
{
    public static void Use(PasswordHasherOptions options) => options.IterationCount = 1_000;
}
