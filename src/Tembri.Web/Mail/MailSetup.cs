namespace Tembri.Web.Mail;

/// <summary>Whether mail can be sent here, and whether the demo's stand-in receives it.</summary>
/// <param name="CanSend">A server or the stand-in is there.</param>
/// <param name="HasStandIn">The stand-in receives all mail; it is shown on a page of this machine.</param>
internal sealed record MailSetup(bool CanSend, bool HasStandIn);
