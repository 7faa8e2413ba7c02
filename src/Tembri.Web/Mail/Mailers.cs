using MailKit.Net.Smtp;
using MailKit.Security;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using MimeKit;
using Tembri.Data;
using Tembri.Data.Accounts;

namespace Tembri.Web.Mail;

/// <summary>Where mail goes; section <c>Mail</c> of the configuration.</summary>
public sealed class MailOptions
{
    /// <summary>The SMTP server; empty for none.</summary>
    public string Host { get; set; } = "";

    public int Port { get; set; } = 587;

    /// <summary>True to send without encryption, for a server on the same machine.</summary>
    public bool Plain { get; set; }

    public string User { get; set; } = "";

    /// <summary>A file that holds the password, so that it stands in no setting.</summary>
    public string PasswordFile { get; set; } = "";

    public string From { get; set; } = "Tembri <tembri@localhost>";
}

/// <summary>Sends a mail of plain text.</summary>
internal interface IMailer
{
    Task SendAsync(string to, string subject, string body, CancellationToken cancel);
}

/// <summary>Sends through the SMTP server that is set.</summary>
internal sealed class SmtpMailer(IOptions<MailOptions> options) : IMailer
{
    public async Task SendAsync(string to, string subject, string body, CancellationToken cancel)
    {
        var o = options.Value;
        var mail = new MimeMessage { Subject = subject, Body = new TextPart("plain") { Text = body } };
        mail.From.Add(MailboxAddress.Parse(o.From));
        mail.To.Add(new MailboxAddress("", to));
        using var client = new SmtpClient { Timeout = 20_000 };
        await client.ConnectAsync(o.Host, o.Port, o.Plain ? SecureSocketOptions.None : SecureSocketOptions.Auto, cancel);
        if (o.User.Length > 0)
            await client.AuthenticateAsync(o.User, (await File.ReadAllTextAsync(o.PasswordFile, cancel)).Trim(), cancel);
        await client.SendAsync(mail, cancel);
        await client.DisconnectAsync(quit: true, cancel);
    }
}

/// <summary>Stands in for a server in the demo: mails are kept and shown on a page of this machine.</summary>
internal sealed class StandInMailer(TembriDbContext context, TimeProvider clock) : IMailer
{
    private const int Kept = 50;

    public async Task SendAsync(string to, string subject, string body, CancellationToken cancel)
    {
        context.StandInMails.Add(new StandInMail { To = to, Subject = subject, Body = body, At = clock.GetUtcNow() });
        await context.SaveChangesAsync(cancel);
        var oldest =
            await context.StandInMails.OrderByDescending(m => m.At).Skip(Kept).Select(m => m.At).FirstOrDefaultAsync(cancel);
        if (oldest != default) await context.StandInMails.Where(m => m.At <= oldest).ExecuteDeleteAsync(cancel);
    }
}

/// <summary>No server is set and no stand-in: mail cannot be sent, and the log says so.</summary>
internal sealed class NoMailer(ILogger<NoMailer> log) : IMailer
{
    public Task SendAsync(string to, string subject, string body, CancellationToken cancel)
    {
        log.LogWarning("A mail could not be sent: no SMTP server is set (Mail:Host).");
        return Task.CompletedTask;
    }
}
