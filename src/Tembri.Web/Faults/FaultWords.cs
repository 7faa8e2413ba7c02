namespace Tembri.Web.Faults;

/// <summary>What a status means to the person who meets it, and what to do.</summary>
/// <param name="Heading">In a few words.</param>
/// <param name="Advice">What happened to the work, and what to do.</param>
internal readonly record struct FaultWords(string Heading, string Advice)
{
    /// <summary>A student's link that opens nothing.</summary>
    public static readonly FaultWords Link = new("This link is closed",
        "It was mistyped, or it has ended, or your teacher made a new one. Ask for a new link. What you practised and could not "
            + "hand in yet is still on the phone, and goes in with the new one.");

    public static FaultWords Of(int status) => status switch
    {
        400 => new("This could not be read",
            "What was sent is not what this page sends; most likely the page was old. Nothing was changed. Go back, load it "
                + "again and try once more."),
        401 => new("You are signed out",
            "Nothing was saved. Sign in, in another tab if you have something typed here, then go back and send it again."),
        403 => new("This is not for you", "The address belongs to something you may not see. Nothing was changed."),
        404 => new("There is nothing here",
            "The address may be mistyped, or the song or student was removed. Nothing was changed."),
        405 => new("This cannot be done here",
            "The address exists, but not for this kind of request. Go back and use the page itself."),
        408 => new("That took too long", "The rest of what you sent never came. Nothing was changed; try again."),
        409 => new("Somebody was here first",
            "This was changed or removed at the same moment, in another tab or on another device. Nothing of yours was saved "
                + "over it: go back, load the page again and make your change once more."),
        413 => new("That is too much at once",
            "What you sent is larger than this page takes. Nothing was changed; send less at a time."),
        415 => new("This kind of content is not read here", "Send JSON, with the header content-type: application/json."),
        422 => new("This cannot be done as it is", "Something in it does not fit. Nothing was changed."),
        429 => new("That was very often", "Wait a minute, then try again. Nothing was changed."),
        503 => new("Not reachable for the moment",
            "The database or the machine does not keep up just now. What you saved before is safe. Wait a few seconds, then "
                + "load the page again."),
        >= 500 => new("Something went wrong here",
            "The fault is ours and has been written down. What you saved before is safe; try again, or go back to Today."),
        _ => new("This could not be done", "Nothing was changed. Go back and try again."),
    };
}
