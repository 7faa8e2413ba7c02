using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;


namespace Tembri.Bench;

/// <summary>Compares the recommended capo with the ones teachers choose for common progressions.</summary>
internal static class CapoCheck
{
    private static readonly (string Chords, int[] Teachers)[] Progressions =
    [
        ("C G Am F", [0]), ("G D Em C", [0]), ("D G A D", [0]), ("Am G C Dm E", [0]), ("Em C G D", [0]), ("A D E A", [0]),
        ("E A B7 E", [0]), ("Dm Bb F C", [0, 3, 5]),
        ("F# B C# D#m", [2, 4]), ("Eb Ab Bb Cm", [1, 3]), ("Bb Eb F Gm", [1, 3]), ("Ab Db Eb Fm", [1, 4]),
        ("Db Gb Ab Bbm", [1, 4]), ("B E F# G#m", [2, 4]), ("F Bb C Dm", [1, 3, 5]),
        ("Fm Db Ab Eb", [1]), ("C#m A E B", [2, 4]), ("Cm Ab Eb Bb", [1, 3]), ("Bm G D A", [0, 2]), ("Gm Eb Bb F", [1, 3]),
        ("G#m E B F#", [1, 2, 4]), ("Bbm Gb Db Ab", [1]), ("A D E F#m", [0, 2]),
        ("Eb Bb Cm Ab", [1, 3]), ("Bb F Gm Eb", [1, 3]), ("Ab Eb Fm Db", [1, 4]), ("E B C#m A", [0, 2, 4]),
        ("F C Dm Bb", [1, 3, 5]), ("F#m D A E", [0, 2, 4]), ("Ab Fm Bbm Eb7", [1, 4]),
    ];

    public static int Run()
    {
        var right = 0;
        foreach (var (chords, teachers) in Progressions)
        {
            var first = chords.Split(' ')[0];
            var ladder = new LadderBuilder(new ResultCache())
                .Build(new ArrangementRequest
                {
                    Chart = ChartReader.Read(
                        $"tempo: 90\n| {chords.Replace(" ", " | ", StringComparison.Ordinal)} | {first} |").Chart,
                    Kind = PlayerKind.Usual
                });
            var ok = teachers.Contains(ladder.Capo);
            if (ok) right++;
            Console.WriteLine($"{(ok ? "   " : "<<<")} {chords,-20} key {ladder.Chart.Key,-4} capo {ladder.Capo} "
                + $"{ladder.ShapeKey,-4} teachers {string.Join("/", teachers),-6} "
                + $"{string.Join(" ", ladder.Places.Select(p => $"{p.Capo}:{p.Score:0.0}"))}");
        }
        Console.WriteLine($"{right} of {Progressions.Length}");
        return 0;
    }
}
