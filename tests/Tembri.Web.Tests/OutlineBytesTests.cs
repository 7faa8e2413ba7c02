using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data.Ladders;

namespace Tembri.Web.Tests;

/// <summary>What is stored of a ladder grades as the ladder does, and is told apart from rubbish.</summary>
public sealed class OutlineBytesTests
{
    private static readonly Ladder Ladder = new LadderBuilder(new ResultCache()).Build(new ArrangementRequest
    {
        Chart = ChartReader.Read("key: Eb\ntempo: 104\n| Eb | Cm7 . Fm7 . | Abmaj7 | Bb7 |").Chart, Kind = PlayerKind.Usual,
    });

    [Fact]
    public void Stored_outlines_grade_every_student_as_the_ladder_itself()
    {
        var stored = OutlineBytes.Read(OutlineBytes.Write(LadderOutline.Of(Ladder)), new OutlinePool())!;
        Gen.Double[0, 100].Array[8].Sample(s =>
        {
            var player = new Player
            {
                Skills = new Skills
                {
                    Fingers = s[0], Stretch = s[1], ShortBarre = s[2], FullBarre = s[3], Muting = s[4], Thumb = s[5],
                    Changes = s[6], RightHand = s[7]
                },
            };
            var (graded, grade) = (new StudentLadder(Ladder, player), stored.Grade(player));
            Assert.Equal((Ladder.Capo, graded.WorkingRung), (grade.Capo, grade.WorkingRung));
            Assert.Equal(graded.Fits.Select(f => f is null ? (VersionGrade?)null : new VersionGrade(f.Value, f.Verdict)),
                grade.Rungs);
            for (var r = 0; r < 5; r++)
                Assert.Equal(graded.Fits[r]?.Reason,
                    stored.Rungs[r] is { } outline ? new VersionFit(outline, player).Reason : null);
        }, iter: 100);
    }

    [Fact]
    public void What_outlines_have_in_common_is_there_once_and_two_that_ask_otherwise_stay_apart()
    {
        var (pool, bytes) = (new OutlinePool(), OutlineBytes.Write(LadderOutline.Of(Ladder)));
        var (one, other) = (OutlineBytes.Read(bytes, pool)!, OutlineBytes.Read(bytes, pool)!);
        var pairs = one.Rungs.Zip(other.Rungs).Where(r => r.First is not null)
            .SelectMany(r => r.First!.Chords.Zip(r.Second!.Chords)).ToList();
        Assert.NotEmpty(pairs);
        Assert.All(pairs, p => Assert.True(ReferenceEquals(p.First.Demands, p.Second.Demands)
            && ReferenceEquals(p.First.Shape, p.Second.Shape) && ReferenceEquals(p.First.Name, p.Second.Name)));
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 2]).Sample((technique, points, second, third) =>
        {
            Demands a = [new((Technique)technique, points), new(Technique.Muting, third)];
            Demands b = [new((Technique)second, points), new(Technique.Muting, third)];
            return ReferenceEquals(pool.Once(a), pool.Once(b)) == (technique == second) && a.SequenceEqual(pool.Once(a));
        });
    }

    [Fact]
    public void Rubbish_is_no_outline()
    {
        var whole = OutlineBytes.Write(LadderOutline.Of(Ladder));
        var pool = new OutlinePool();
        for (var length = 0; length < whole.Length; length += 3) Assert.Null(OutlineBytes.Read(whole[..length], pool));
        Assert.Null(OutlineBytes.Read([.. whole, 0], pool));
        Gen.Byte.Array[3, 300].Sample(bytes =>
        {
            // Two empty rungs are as good as any; what names a strum never is by chance.
            bytes[1] = (byte)(3 + bytes[1] % 200);
            bytes[2] = 1;
            return OutlineBytes.Read(bytes, pool) is null;
        }, iter: 2_000);
    }
}
