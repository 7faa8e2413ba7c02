using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Tembri.Data.Accounts;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;

namespace Tembri.Data;

/// <summary>All stored data. Rows of a studio are filtered by the current studio, in queries and on saving.</summary>
public sealed class TembriDbContext(DbContextOptions<TembriDbContext> options, ICurrentStudio currentStudio)
    : IdentityUserContext<Teacher, Guid>(options), IDataProtectionKeyContext
{
    /// <summary>The studio whose rows are visible; used by the query filters.</summary>
    public Guid? CurrentStudioId => currentStudio.StudioId;

    public DbSet<Studio> Studios => Set<Studio>();
    public DbSet<Song> Songs => Set<Song>();
    public DbSet<Student> Students => Set<Student>();
    public DbSet<LadderChoice> LadderChoices => Set<LadderChoice>();
    public DbSet<LockedShape> LockedShapes => Set<LockedShape>();
    public DbSet<Grade> Grades => Set<Grade>();
    public DbSet<Session> Sessions => Set<Session>();
    public DbSet<SignInTry> SignInTries => Set<SignInTry>();
    public DbSet<StandInMail> StandInMails => Set<StandInMail>();
    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.Entity<Teacher>(b =>
        {
            b.ToTable("teachers");
            b.HasOne(t => t.Studio).WithMany().HasForeignKey(t => t.StudioId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("teacher_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("teacher_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("teacher_tokens");
        builder.Entity<Session>(b =>
        {
            b.Property(s => s.Device).HasMaxLength(80);
            b.HasOne(s => s.Teacher).WithMany().HasForeignKey(s => s.TeacherId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SignInTry>(b =>
        {
            b.HasKey(t => t.Key);
            b.Property(t => t.Key).HasMaxLength(64);
        });
        builder.Entity<StandInMail>().HasIndex(m => m.At);
        builder.Entity<Studio>(b =>
        {
            b.Property(s => s.Version).IsRowVersion();
            b.Property(s => s.Name).HasMaxLength(80);
            b.Property(s => s.NoteNames).HasConversion<string>().HasMaxLength(10).HasDefaultValue(Core.Music.NoteNames.AsKey);
            b.Property(s => s.Tunings).HasDefaultValue(Studio.UsualTunings.ToArray());
        });
        builder.Entity<Song>(b =>
        {
            b.Property(s => s.Title).HasMaxLength(160);
            b.Property(s => s.Key).HasMaxLength(8);
            b.Property(s => s.Meter).HasMaxLength(8);
            b.Property(s => s.Version).IsRowVersion();
            b.HasIndex(s => new { s.StudioId, s.Title });
            b.HasIndex(s => new { s.StudioId, s.RequestKey }).IsUnique();
        });
        builder.Entity<Student>(b =>
        {
            b.Property(s => s.Nickname).HasMaxLength(Student.LongestNickname);
            b.Property(s => s.HandId).HasMaxLength(20);
            b.Property(s => s.GuitarId).HasMaxLength(20);
            b.Property(s => s.Barres).HasConversion<string>().HasMaxLength(10);
            b.Property(s => s.Version).IsRowVersion();
            b.OwnsOne(s => s.Skills, skills => skills.ToJson());
            b.HasIndex(s => new { s.StudioId, s.Nickname });
            b.HasIndex(s => new { s.StudioId, s.RequestKey }).IsUnique();
        });
        builder.Entity<LadderChoice>(b =>
        {
            b.Property(c => c.Aim).HasConversion<string>().HasMaxLength(10);
            b.Property(c => c.Company).HasConversion<string>().HasMaxLength(10);
            b.Property(c => c.Revision).IsConcurrencyToken();
            b.HasIndex(c => new { c.SongId, c.StudentId }).IsUnique();
        });
        builder.Entity<LockedShape>(b =>
        {
            b.Property(l => l.Chord).HasMaxLength(40);
            b.HasIndex(l => new { l.SongId, l.StudentId, l.Rung, l.Chord }).IsUnique();
        });
        builder.Entity<Grade>(b =>
        {
            b.Property(g => g.Stamp).HasMaxLength(64);
            b.OwnsMany(g => g.Rungs, rungs => rungs.ToJson());
            b.HasIndex(g => new { g.SongId, g.StudentId }).IsUnique();
        });
        OwnedByStudio<Song>(builder);
        OwnedByStudio<Student>(builder);
        OwnedByStudio<LadderChoice>(builder);
        OwnedByStudio<LockedShape>(builder);
        OwnedByStudio<Grade>(builder);
    }

    private void OwnedByStudio<T>(ModelBuilder builder) where T : class, IStudioOwned
    {
        builder.Entity<T>().HasQueryFilter(row => row.StudioId == CurrentStudioId);
        builder.Entity<T>().HasOne<Studio>().WithMany().HasForeignKey(row => row.StudioId).OnDelete(DeleteBehavior.Cascade);
    }

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

    /// <summary>New rows get the current studio; a row of another studio is never written.</summary>
    private void GuardStudio()
    {
        foreach (var entry in ChangeTracker.Entries<IStudioOwned>())
        {
            if (entry.State is EntityState.Unchanged or EntityState.Detached) continue;
            if (CurrentStudioId is not { } studio) throw new InvalidOperationException("A studio's row can only be written while a studio is signed in.");
            if (entry.State == EntityState.Added && entry.Entity.StudioId == Guid.Empty) entry.Entity.StudioId = studio;
            if (entry.Entity.StudioId != studio) throw new InvalidOperationException("This row belongs to another studio.");
        }
    }
}
