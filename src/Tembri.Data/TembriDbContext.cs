using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Tembri.Data.Accounts;
using Tembri.Data.Ladders;
using Tembri.Data.Lessons;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;

namespace Tembri.Data;

/// <summary>All stored data. Rows of a studio are filtered by the current studio, in queries and on saving.</summary>
public sealed partial class TembriDbContext : IdentityUserContext<Teacher, Guid>, IDataProtectionKeyContext
{
    private readonly ICurrentStudio _currentStudio;

    public TembriDbContext(DbContextOptions<TembriDbContext> options, ICurrentStudio currentStudio) : base(options)
    {
        _currentStudio = currentStudio;
        // What is saved is told its studio when its transaction begins (StudioOnCommands).
        Database.AutoTransactionBehavior = AutoTransactionBehavior.Always;
    }

    /// <summary>The studio whose rows are visible; used by the query filters.</summary>
    public Guid? CurrentStudioId => _currentStudio.StudioId;

    public DbSet<Studio> Studios => Set<Studio>();
    public DbSet<Song> Songs => Set<Song>();
    public DbSet<SongRevision> SongRevisions => Set<SongRevision>();
    public DbSet<SongHearing> SongHearings => Set<SongHearing>();
    public DbSet<Student> Students => Set<Student>();
    public DbSet<LadderChoice> LadderChoices => Set<LadderChoice>();
    public DbSet<LockedShape> LockedShapes => Set<LockedShape>();
    public DbSet<LadderState> LadderStates => Set<LadderState>();
    public DbSet<HandVersion> HandVersions => Set<HandVersion>();
    public DbSet<PracticeEntry> PracticeEntries => Set<PracticeEntry>();
    public DbSet<StudentProgress> StudentProgresses => Set<StudentProgress>();
    public DbSet<LearningState> LearningStates => Set<LearningState>();
    public DbSet<SongWork> SongWorks => Set<SongWork>();
    public DbSet<StudentLink> StudentLinks => Set<StudentLink>();
    public DbSet<StudioGuitar> StudioGuitars => Set<StudioGuitar>();
    public DbSet<Lesson> Lessons => Set<Lesson>();
    public DbSet<Holiday> Holidays => Set<Holiday>();
    public DbSet<SongSet> SongSets => Set<SongSet>();
    public DbSet<SheetJob> SheetJobs => Set<SheetJob>();
    public DbSet<ApiKey> ApiKeys => Set<ApiKey>();
    public DbSet<StudentSight> StudentSights => Set<StudentSight>();
    public DbSet<ArrangedLadder> ArrangedLadders => Set<ArrangedLadder>();
    public DbSet<ArrangingOrder> ArrangingOrders => Set<ArrangingOrder>();
    public DbSet<ArrangingRun> ArrangingRuns => Set<ArrangingRun>();
    public DbSet<Session> Sessions => Set<Session>();
    public DbSet<SignInTry> SignInTries => Set<SignInTry>();
    public DbSet<OperatorAct> OperatorActs => Set<OperatorAct>();
    public DbSet<StandInMail> StandInMails => Set<StandInMail>();
    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    /// <summary>Tells a transaction that is open of the current studio; for a studio that is made within it.</summary>
    public Task EnterStudioAsync() =>
        CurrentStudioId is { } studio
            ? Database.ExecuteSqlAsync($"select set_config('tembri.studio', {studio.ToString("D")}, true)")
            : Task.CompletedTask;

    /// <summary>From now on commands of this context may take minutes: for work on a whole studio, which nobody sends again
    /// because it is slow.</summary>
    public void MayTakeLong() => Database.SetCommandTimeout(LongWork);

    private static readonly TimeSpan LongWork = TimeSpan.FromMinutes(5);

    public override Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        GuardStudio();
        return base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
    }

    public override int SaveChanges(bool acceptAllChangesOnSuccess)
    {
        GuardStudio();
        return base.SaveChanges(acceptAllChangesOnSuccess);
    }

    /// <summary>A row of another studio is never written.</summary>
    private void GuardStudio()
    {
        foreach (var entry in ChangeTracker.Entries<IStudioOwned>())
        {
            if (entry.State is EntityState.Unchanged or EntityState.Detached) continue;
            if (CurrentStudioId is not { } studio) throw new InvalidOperationException(NobodySignedIn);
            if (entry.Entity.StudioId != studio) throw new InvalidOperationException("This row belongs to another studio.");
        }
    }

    /// <summary>Adds a row to the current studio.</summary>
    /// <exception cref="InvalidOperationException">No studio is signed in.</exception>
    public void AddOwned<T>(T row) where T : class, IStudioOwned
    {
        row.StudioId = CurrentStudioId ?? throw new InvalidOperationException(NobodySignedIn);
        Add(row);
    }

    private const string NobodySignedIn = "A studio's row can only be written while a studio is signed in.";
}
