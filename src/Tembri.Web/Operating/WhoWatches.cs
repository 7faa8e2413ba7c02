using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Web.Faults;
using Tembri.Web.Mail;
using Tembri.Web.Setup;

namespace Tembri.Web.Operating;

/// <summary>Whether anybody still asks this instance for its measures. When nobody does, nobody would be told of anything else
/// either, so this instance tells: the log, the trail, the operator's page, and by mail every operator.</summary>
/// <remarks>The start counts as having been asked. However many instances miss it, it is told once in twelve hours.</remarks>
internal sealed class WhoWatches(IServiceScopeFactory scopes, IConfiguration configuration, TimeProvider clock,
    ILogger<WhoWatches> log) : BackgroundService
{
    /// <summary>What the trail calls it.</summary>
    public const string Unwatched = "not watched";

    private static readonly TimeSpan Between = TimeSpan.FromMinutes(1), ToldAgain = TimeSpan.FromHours(12);

    private readonly TimeSpan _patience = TimeSpan.FromMinutes(configuration.GetValue("Metrics:MissedMinutes", 10.0));
    private long _askedAt = clock.GetUtcNow().UtcTicks;
    private bool _isMissed;

    /// <summary>How long ago it was asked last.</summary>
    public TimeSpan Quiet => clock.GetUtcNow() - new DateTimeOffset(Interlocked.Read(ref _askedAt), TimeSpan.Zero);

    /// <summary>True when nobody has asked for longer than is waited; never, where no minutes are set to wait.</summary>
    public bool IsMissed => _patience > TimeSpan.Zero && Quiet > _patience;

    /// <summary>True in a process that runs and is to be watched; a command of the operator's is neither.</summary>
    public bool IsAtWork { get; private set; }

    /// <summary>Somebody asks for the measures now.</summary>
    public void Asked() => Interlocked.Exchange(ref _askedAt, clock.GetUtcNow().UtcTicks);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        (IsAtWork, _askedAt) = (true, clock.GetUtcNow().UtcTicks);
        using var minutes = new PeriodicTimer(Between, clock);
        while (await minutes.WaitForNextTickAsync(stoppingToken)) await LookAsync(stoppingToken);
    }

    /// <summary>Looks once, and tells where it is missed.</summary>
    public async Task LookAsync(CancellationToken leaving)
    {
        if (IsMissed != _isMissed)
        {
            _isMissed = IsMissed;
            if (_isMissed)
                log.LogWarning("Nobody has asked for the measures of this instance for {Minutes:0} minutes.", Quiet.TotalMinutes);
            else log.LogInformation("The measures of this instance are asked for again.");
        }
        if (!_isMissed) return;
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await TellAsync(scope.ServiceProvider, leaving);
        }
        // Told in the next minute, then.
        catch (Exception e) when (DatabaseFaults.IsOutage(e)) { }
        // Addresses may stand in the message. What gives up by itself is cancelled too, and ends nothing but this look.
        catch (Exception e) when (e is not OperationCanceledException || !leaving.IsCancellationRequested)
        {
            log.LogError("Operators could not be told that nobody watches: {Fault}", e.GetType().Name);
        }
    }

    private async Task TellAsync(IServiceProvider services, CancellationToken leaving)
    {
        var context = services.GetRequiredService<TembriDbContext>();
        var mailer = services.GetRequiredService<IMailer>();
        var note = $"measures not asked for since {clock.GetUtcNow() - Quiet:yyyy-MM-dd HH:mm} UTC";
        await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
        {
            context.ChangeTracker.Clear();
            await using var together = await context.Database.BeginTransactionAsync(leaving);
            await context.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(hashtextextended({Unwatched}, 0))", leaving);
            var since = clock.GetUtcNow() - ToldAgain;
            if (await context.OperatorActs.AnyAsync(a => a.What == Unwatched && a.At > since, leaving)) return;
            context.OperatorActs.Add(new OperatorAct
            {
                At = clock.GetUtcNow(), Who = $"Tembri on {Environment.MachineName}", What = Unwatched, Note = note,
            });
            await context.SaveChangesAsync(leaving);
            var operators = await context.Users.AsNoTracking().Where(t => t.IsOperator && t.Email != null)
                .Select(t => t.Email!).Distinct().ToListAsync(leaving);
            // Mail first: told twice is better than not at all. An address that is refused keeps nobody else waiting, and has
            // nobody told again.
            var (reached, fault) = (0, (Exception?)null);
            foreach (var address in operators)
            {
                try
                {
                    await SendAsync(mailer, address, note, leaving);
                    reached++;
                }
                catch (Exception e) when (!leaving.IsCancellationRequested) { fault = e; }
            }
            if (fault is not null)
                log.LogError("{Missed} of {All} operators could not be told that nobody watches: {Fault}",
                    operators.Count - reached, operators.Count, fault.GetType().Name);
            // Nobody was reached: it is tried again in a minute.
            if (fault is not null && reached == 0) return;
            await together.CommitAsync(leaving);
        });
    }

    private static Task SendAsync(IMailer mailer, string address, string note, CancellationToken leaving) =>
        mailer.SendAsync(address, "Nobody watches Tembri",
            $"Tembri on {Environment.MachineName}: {note}.\n\nThe machine that watches is away, or cannot reach this one. Until "
                + "it is back nobody is told of alerts, no backup is made, and changes wait on the disk of the primary "
                + "database.\n\nLook whether prometheus and pgbackrest-server run there. If this installation is meant to have nobody who "
                + "watches, set Metrics:MissedMinutes to 0.\n\nThis is told once in twelve hours.\n",
            leaving);
}
