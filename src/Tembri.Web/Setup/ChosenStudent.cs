namespace Tembri.Web.Setup;

/// <summary>The student whose ladder was looked at last in this browser: pages of a song that are not about a student keep the
/// way to it.</summary>
internal static class ChosenStudent
{
    public const string Cookie = "tembri-student";

    /// <summary>Remembers a student until the browser is closed.</summary>
    public static void Keep(HttpContext http, Guid student)
    {
        if (Of(http.Request, null) == student) return;
        http.Response.Cookies.Append(Cookie, student.ToString("N"),
            new CookieOptions
            {
                HttpOnly = true, IsEssential = true, SameSite = SameSiteMode.Lax, Secure = http.Request.IsHttps
            });
    }

    /// <summary>Who was chosen: in the address, or last. It may be nobody of this studio; ask before using it.</summary>
    /// <param name="request">The request.</param>
    /// <param name="asked">The student in the address; null when there is none.</param>
    public static Guid? Of(HttpRequest request, Guid? asked) =>
        asked ?? (Guid.TryParse(request.Cookies[Cookie], out var last) ? last : null);
}
