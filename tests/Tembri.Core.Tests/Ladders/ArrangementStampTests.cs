using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Tests.Ladders;

/// <summary>Requests that give other ladders have other stamps; requests that are alike have the same.</summary>
public sealed class ArrangementStampTests
{
    private static readonly ArrangementRequest Usual =
        new() { Chart = ChartReader.Read("| C | F |").Chart, Kind = PlayerKind.Usual };

    private static readonly ShapeLock Taken = new(3, "0:", 0, Shape.Parse("x32010"));

    private static TimedChanges Timed(double count) =>
        new(new Dictionary<(Shape, Shape), double> { [(Shape.Parse("x32010"), Shape.Parse("133211"))] = count });

    private static ArrangementStamp Of(ArrangementRequest request) => ArrangementStamp.Of("abc", request);

    private static ArrangementRequest With(Func<RungLimits, RungLimits> change) =>
        Usual with { Rungs = [change(RungLimits.Defaults[0]), .. RungLimits.Defaults.Skip(1)] };

    [Fact]
    public void Whatever_differs_in_a_request_differs_in_its_stamp()
    {
        ArrangementRequest[] requests =
        [
            Usual,
            Usual with { Kind = Usual.Kind with { Hand = Hand.Preset("child") } },
            Usual with { Kind = Usual.Kind with { Guitar = Guitar.Preset("half") } },
            Usual with { Kind = Usual.Kind with { Thumb = true } },
            Usual with { Kind = Usual.Kind with { Barres = BarreGoal.Seek } },
            Usual with { Kind = Usual.Kind with { Pace = ChangePace.Of(90) } },
            Usual with { Timed = Timed(31) },
            Usual with { Timed = Timed(31.5) },
            Usual with { Aim = Aim.Voice },
            Usual with { Aim = Aim.None },
            Usual with { HighestCapo = 5 },
            Usual with { Accompaniment = Accompaniment.Alone },
            Usual with { Capo = 0 },
            Usual with { Capo = 2 },
            Usual with { Tuning = 0 },
            Usual with { Tuning = -1 },
            Usual with { Strings = Tuning.DropD },
            Usual with { Strings = Tuning.Standard },
            Usual with { Kind = Usual.Kind with { Strings = Tuning.DropD } },
            Usual with { Kind = Usual.Kind with { Strings = Tuning.DropD.Shift(-1) } },
            Usual with { Locks = [Taken] },
            Usual with { Locks = [Taken with { Rung = 4 }] },
            Usual with { Locks = [Taken with { Chord = "5:" }] },
            Usual with { Locks = [Taken with { ShapeTonic = 7 }] },
            Usual with { Locks = [Taken with { Shape = Shape.Parse("x3201x") }] },
            Usual with { Locks = [
                Taken with { Fingers = [Finger.None, Finger.Ring, Finger.Middle, Finger.None, Finger.Index, Finger.None] }] },
            With(r => r with { LoadCeiling = r.LoadCeiling + 0.25 }),
            With(r => r with { LeavesOutBelow = 0.125 }),
            With(r => r with { Substitutions = [SubstitutionKind.None] }),
            With(r => r with { Substitutions = [SubstitutionKind.None, SubstitutionKind.PowerChord] }),
        ];
        Assert.Equal(requests.Length, requests.Select(Of).Distinct().Count());
        Assert.NotEqual(Of(Usual), ArrangementStamp.Of("abd", Usual));
        Assert.All(requests.Select(Of), s => Assert.True(s.Decisions.Length <= 64, s.Decisions));
        Assert.Equal("", Of(Usual).Decisions);
    }

    [Fact]
    public void The_order_of_what_was_decided_and_the_language_of_the_machine_do_not_count()
    {
        var other = Taken with { Rung = 1 };
        Assert.Equal(Of(Usual with { Locks = [Taken, other] }), Of(Usual with { Locks = [other, Taken] }));
        var request = With(r => r with { LoadCeiling = 20.5 }) with { Timed = Timed(30.5) };
        var stamp = Of(request);
        var culture = System.Globalization.CultureInfo.CurrentCulture;
        try
        {
            var comma = (System.Globalization.CultureInfo)System.Globalization.CultureInfo.InvariantCulture.Clone();
            (comma.NumberFormat.NumberDecimalSeparator, comma.NumberFormat.NegativeSign) = (",", "~");
            System.Globalization.CultureInfo.CurrentCulture = comma;
            Assert.Equal(stamp, Of(request));
        }
        finally { System.Globalization.CultureInfo.CurrentCulture = culture; }
    }
}
