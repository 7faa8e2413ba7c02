using System.Linq.Expressions;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Tembri.Data.Accounts;
using Tembri.Data.Ladders;
using Tembri.Data.Lessons;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;

namespace Tembri.Data;

/// <content>How rows lie in tables.</content>
public sealed partial class TembriDbContext
{
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
        builder.Entity<OperatorAct>(b =>
        {
            b.Property(a => a.Who).HasMaxLength(OperatorAct.LongestWho);
            b.Property(a => a.What).HasMaxLength(OperatorAct.LongestWhat);
            b.Property(a => a.StudioName).HasMaxLength(80);
            b.Property(a => a.Note).HasMaxLength(OperatorAct.LongestNote);
            b.HasIndex(a => a.At);
        });
        builder.Entity<StandInMail>().HasIndex(m => m.At);
        builder.Entity<Studio>(b =>
        {
            b.Property(s => s.Version).IsRowVersion();
            b.Property(s => s.Name).HasMaxLength(80);
            b.Property(s => s.NoteNames).HasConversion<string>().HasMaxLength(10).HasDefaultValue(Core.Music.NoteNames.AsKey);
            b.Property(s => s.Wishes).HasDefaultValue("");
            b.Property(s => s.Sheets).HasDefaultValue("");
            b.Property(s => s.Tunings).HasDefaultValue(Studio.UsualTunings.ToArray());
        });
        builder.Entity<Song>(b =>
        {
            b.HasKey(s => new { s.StudioId, s.Id });
            b.Property(s => s.Title).HasMaxLength(160);
            b.Property(s => s.ChartStamp).HasMaxLength(64);
            b.Property(s => s.Key).HasMaxLength(8);
            b.Property(s => s.Meter).HasMaxLength(8);
            b.Property(s => s.Version).IsRowVersion();
            b.HasIndex(s => new { s.StudioId, s.Title });
            b.Property(s => s.Tags).HasDefaultValueSql("'{}'");
            b.Property(s => s.SearchText).HasDefaultValue("");
            b.HasIndex(s => new { s.StudioId, s.RequestKey }).IsUnique();
        });
        builder.Entity<SongRevision>(b =>
        {
            b.HasKey(r => new { r.StudioId, r.SongId, r.Number });
            b.HasOne<Song>().WithMany().HasForeignKey(r => new { r.StudioId, r.SongId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SongHearing>(b =>
        {
            b.HasKey(h => new { h.StudioId, h.SongId });
            b.HasOne<Song>().WithMany().HasForeignKey(h => new { h.StudioId, h.SongId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<Student>(b =>
        {
            b.Property(s => s.GuitarStrings).HasMaxLength(LadderChoice.LongestStrings);
            b.HasKey(s => new { s.StudioId, s.Id });
            b.Property(s => s.Nickname).HasMaxLength(Student.LongestNickname);
            b.Property(s => s.HandId).HasMaxLength(20);
            b.Property(s => s.GuitarId).HasMaxLength(20);
            b.Property(s => s.Barres).HasConversion<string>().HasMaxLength(10);
            b.Property(s => s.Version).IsRowVersion();
            b.Property(s => s.Wishes).HasDefaultValue("");
            b.OwnsOne(s => s.Skills, skills => skills.ToJson());
            b.Property(s => s.GuitarMeasures).HasDefaultValue("");
            b.Property(s => s.Tags).HasDefaultValueSql("'{}'");
            b.Navigation(s => s.Progress).AutoInclude();
            b.Property(s => s.UsesPractice).HasDefaultValue(true);
            b.Property(s => s.MinutesADay).HasDefaultValue(Student.UsualMinutes);
            b.Property(s => s.AgeGroup).HasConversion<string>().HasMaxLength(10).HasDefaultValue(Core.Practice.AgeGroup.Grown);
            b.HasOne<StudioGuitar>().WithMany().HasForeignKey(s => new { s.StudioId, s.OwnGuitarId })
                .OnDelete(DeleteBehavior.NoAction);
            b.HasIndex(s => new { s.StudioId, s.Nickname });
            b.HasIndex(s => new { s.StudioId, s.RequestKey }).IsUnique();
        });
        builder.Entity<LadderChoice>(b =>
        {
            b.Property(c => c.Aim).HasConversion<string>().HasMaxLength(10);
            b.Property(c => c.Accompaniment).HasConversion<string>().HasMaxLength(10);
            b.Property(c => c.Revision).IsConcurrencyToken();
            b.Property(c => c.Voice).HasMaxLength(LadderChoice.LongestVoice);
            b.Property(c => c.Tune).HasMaxLength(LadderChoice.LongestVoice);
            b.Property(c => c.Strings).HasMaxLength(LadderChoice.LongestStrings);
            b.Property(c => c.Wishes).HasDefaultValue("");
            b.HasKey(c => new { c.StudioId, c.SongId, c.StudentId });
            OfSongAndStudent(b, c => new { c.StudioId, c.SongId }, c => new { c.StudioId, c.StudentId });
        });
        builder.Entity<LadderState>(b =>
        {
            b.HasKey(s => new { s.StudioId, s.SongId, s.StudentId, s.Number });
            b.Property(s => s.What).HasMaxLength(LadderState.LongestWhat);
            OfSongAndStudent(b, s => new { s.StudioId, s.SongId }, s => new { s.StudioId, s.StudentId });
        });
        builder.Entity<HandVersion>(b =>
        {
            b.Property(v => v.Strings).HasMaxLength(LadderChoice.LongestStrings);
            b.HasKey(v => new { v.StudioId, v.Id });
            b.Property(v => v.Name).HasMaxLength(HandVersion.LongestName);
            b.Property(v => v.Version).IsRowVersion();
            b.HasIndex(v => new { v.StudioId, v.SongId, v.StudentId });
            OfSongAndStudent(b, v => new { v.StudioId, v.SongId }, v => new { v.StudioId, v.StudentId });
        });
        builder.Entity<PracticeEntry>(b =>
        {
            b.HasKey(e => new { e.StudioId, e.Id });
            b.Property(e => e.Kind).HasConversion<string>().HasMaxLength(10);
            b.Property(e => e.Text).HasMaxLength(PracticeEntry.LongestText);
            b.Property(e => e.By).HasConversion<string>().HasMaxLength(10).HasDefaultValue(Author.Teacher);
            b.Property(e => e.EndedBy).HasConversion<string>().HasMaxLength(10);
            b.Property(e => e.Pattern).HasMaxLength(PracticeEntry.LongestPattern);
            b.Property(e => e.Meter).HasMaxLength(PracticeEntry.LongestMeter);
            b.Property(e => e.Guitar).HasMaxLength(PracticeEntry.LongestGuitar);
            b.HasIndex(e => new { e.StudioId, e.StudentId, e.At });
            b.HasIndex(e => new { e.StudioId, e.RequestKey }).IsUnique();
            // What was practised stays when a song goes: the migration lets the database empty the song alone.
            b.HasOne<Song>().WithMany().HasForeignKey(e => new { e.StudioId, e.SongId }).OnDelete(DeleteBehavior.NoAction);
            b.HasOne<Student>().WithMany().HasForeignKey(e => new { e.StudioId, e.StudentId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<StudentProgress>(b =>
        {
            b.HasKey(p => new { p.StudioId, p.StudentId });
            b.Ignore(p => p.Hurts);
            b.HasOne<Student>().WithOne(s => s.Progress).HasForeignKey<StudentProgress>(p => new { p.StudioId, p.StudentId })
                .OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<LearningState>(b =>
        {
            b.HasKey(s => new { s.StudioId, s.StudentId });
            b.HasOne<Student>().WithOne().HasForeignKey<LearningState>(s => new { s.StudioId, s.StudentId })
                .OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SongWork>(b =>
        {
            b.HasKey(w => new { w.StudioId, w.Id });
            b.Property(w => w.Why).HasMaxLength(SongWork.LongestWhy);
            // A student works on a song at one rung at a time.
            b.HasIndex(w => new { w.StudioId, w.StudentId, w.SongId }).IsUnique().HasFilter("ended_at is null");
            OfSongAndStudent(b, w => new { w.StudioId, w.SongId }, w => new { w.StudioId, w.StudentId });
        });
        builder.Entity<StudentLink>(b =>
        {
            b.HasIndex(l => l.Digest).IsUnique();
            b.HasOne<Student>().WithMany().HasForeignKey(l => new { l.StudioId, l.StudentId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<StudioGuitar>(b =>
        {
            b.HasKey(g => new { g.StudioId, g.Id });
            b.Property(g => g.Name).HasMaxLength(StudioGuitar.LongestName);
            b.Property(g => g.Version).IsRowVersion();
            b.HasIndex(g => new { g.StudioId, g.RequestKey }).IsUnique();
        });
        builder.Entity<StudentSight>(b =>
        {
            b.HasKey(s => new { s.StudioId, s.StudentId, s.Day, s.Who, s.What });
            b.Property(s => s.Who).HasMaxLength(80);
            b.Property(s => s.What).HasMaxLength(40);
            b.HasOne<Student>().WithMany().HasForeignKey(s => new { s.StudioId, s.StudentId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<Lesson>(b =>
        {
            b.HasKey(l => new { l.StudioId, l.Id });
            b.Property(l => l.Version).IsRowVersion();
            b.HasIndex(l => new { l.StudioId, l.RequestKey }).IsUnique();
            b.HasMany(l => l.Students).WithOne().HasForeignKey(s => new { s.StudioId, s.LessonId })
                .OnDelete(DeleteBehavior.Cascade);
            b.HasMany(l => l.Changes).WithOne().HasForeignKey(c => new { c.StudioId, c.LessonId })
                .OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<LessonStudent>(b =>
        {
            b.ToTable("lesson_students");
            b.HasKey(s => new { s.StudioId, s.LessonId, s.StudentId });
            b.HasOne<Student>().WithMany().HasForeignKey(s => new { s.StudioId, s.StudentId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<LessonException>(b =>
        {
            b.ToTable("lesson_exceptions");
            b.HasKey(c => new { c.StudioId, c.LessonId, c.On });
        });
        builder.Entity<Holiday>(b =>
        {
            b.HasKey(h => new { h.StudioId, h.Id });
            b.Property(h => h.Name).HasMaxLength(Holiday.LongestName);
        });
        builder.Entity<SongSet>(b =>
        {
            b.HasKey(s => new { s.StudioId, s.Id });
            b.Property(s => s.Name).HasMaxLength(SongSet.LongestName);
            b.Property(s => s.Version).IsRowVersion();
            b.HasIndex(s => new { s.StudioId, s.RequestKey }).IsUnique();
            b.HasOne<Student>().WithMany().HasForeignKey(s => new { s.StudioId, s.StudentId }).OnDelete(DeleteBehavior.NoAction);
        });
        builder.Entity<SheetJob>(b =>
        {
            b.HasKey(j => new { j.StudioId, j.Id });
            b.Property(j => j.Name).HasMaxLength(SheetJob.LongestName);
        });
        builder.Entity<ApiKey>(b =>
        {
            b.Property(k => k.Name).HasMaxLength(ApiKey.LongestName);
            b.HasIndex(k => k.Digest).IsUnique();
            b.HasOne<Studio>().WithMany().HasForeignKey(k => k.StudioId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<LockedShape>(b =>
        {
            b.Property(l => l.Strings).HasMaxLength(LadderChoice.LongestStrings);
            b.Property(l => l.Chord).HasMaxLength(LockedShape.LongestChord);
            b.HasKey(l => new { l.StudioId, l.Id });
            b.HasIndex(
                    l => new { l.StudioId, l.SongId, l.StudentId, l.Rung, l.Chord, l.ShapeTonic, l.Capo, l.Tuning, l.Strings })
                .IsUnique().AreNullsDistinct(false);
            OfSongAndStudent(b, l => new { l.StudioId, l.SongId }, l => new { l.StudioId, l.StudentId });
        });
        builder.Entity<ArrangedLadder>(b =>
        {
            b.HasKey(a => new { a.StudioId, a.SongId, a.Kind, a.Decisions });
            b.Property(a => a.Kind).HasMaxLength(ArrangedLadder.LongestKind);
            b.Property(a => a.Decisions).HasMaxLength(64);
            b.Property(a => a.ChartStamp).HasMaxLength(64);
            b.Property(a => a.Techniques).HasDefaultValue("");
            b.HasOne<Song>().WithMany().HasForeignKey(a => new { a.StudioId, a.SongId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<ArrangingOrder>(b =>
        {
            b.HasKey(o => new { o.StudioId, o.SongId });
            b.HasIndex(o => new { o.StudioId, o.DueAt });
            b.HasOne<Song>().WithMany().HasForeignKey(o => new { o.StudioId, o.SongId }).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<ArrangingRun>().HasKey(r => r.StudioId);
        OwnedByStudio<Song>(builder);
        OwnedByStudio<SongRevision>(builder);
        OwnedByStudio<SongHearing>(builder);
        OwnedByStudio<Student>(builder);
        OwnedByStudio<LadderChoice>(builder);
        OwnedByStudio<LockedShape>(builder);
        OwnedByStudio<LadderState>(builder);
        OwnedByStudio<HandVersion>(builder);
        OwnedByStudio<PracticeEntry>(builder);
        OwnedByStudio<StudentProgress>(builder);
        OwnedByStudio<LearningState>(builder);
        OwnedByStudio<SongWork>(builder);
        OwnedByStudio<StudioGuitar>(builder);
        OwnedByStudio<StudentSight>(builder);
        OwnedByStudio<Lesson>(builder);
        OwnedByStudio<LessonStudent>(builder);
        OwnedByStudio<LessonException>(builder);
        OwnedByStudio<Holiday>(builder);
        OwnedByStudio<SongSet>(builder);
        OwnedByStudio<SheetJob>(builder);
        OwnedByStudio<ArrangedLadder>(builder);
        OwnedByStudio<ArrangingOrder>(builder);
        OwnedByStudio<ArrangingRun>(builder);
    }

    /// <summary>What belongs to a song and a student of one studio; the studio stands in both keys, so that nothing joins two
    /// studios.</summary>
    private static void OfSongAndStudent<T>(
        EntityTypeBuilder<T> b, Expression<Func<T, object?>> song,
        Expression<Func<T, object?>> student) where T : class, IStudioOwned
    {
        b.HasOne<Song>().WithMany().HasForeignKey(song).OnDelete(DeleteBehavior.Cascade);
        b.HasOne<Student>().WithMany().HasForeignKey(student).OnDelete(DeleteBehavior.Cascade);
    }

    private void OwnedByStudio<T>(ModelBuilder builder) where T : class, IStudioOwned
    {
        builder.Entity<T>().HasQueryFilter(row => row.StudioId == CurrentStudioId);
        builder.Entity<T>().Property(row => row.StudioId).ValueGeneratedNever();
        builder.Entity<T>().HasOne<Studio>().WithMany().HasForeignKey(row => row.StudioId).OnDelete(DeleteBehavior.Cascade);
    }
}
