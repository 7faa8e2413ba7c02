using System.Threading.Channels;

namespace Tembri.Web.Mail;

/// <summary>Does what ends in a mail after the answer was given, so that the time an answer takes says nothing about who has an
/// account.</summary>
internal sealed class MailRoom(IServiceScopeFactory scopes, ILogger<MailRoom> log) : BackgroundService
{
    private readonly Channel<Func<IServiceProvider, CancellationToken, Task>> _waiting =
        Channel.CreateBounded<Func<IServiceProvider, CancellationToken, Task>>(
        new BoundedChannelOptions(200) { FullMode = BoundedChannelFullMode.DropWrite });

    /// <summary>Hands over a piece of work; it gets services of its own.</summary>
    public void Post(Func<IServiceProvider, CancellationToken, Task> work)
    {
        if (!_waiting.Writer.TryWrite(work)) log.LogWarning("Too many mails wait; one was dropped.");
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var work in _waiting.Reader.ReadAllAsync(stoppingToken))
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await work(scope.ServiceProvider, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested) { return; }
            catch (Exception e)
            {
                // Addresses may stand in the message, so only the kind of the fault is noted.
                log.LogError("A mail could not be sent: {Fault}", e.GetType().Name);
            }
        }
    }
}
