namespace Tembri.Core.Fretboard;

/// <summary>Distances and forces on one guitar with one capo. Frets are counted from the capo. Lengths in mm, forces in
/// N.</summary>
/// <remarks>Fret n of the bare neck lies at L·(1 − 2^(−n/12)) from the nut (equal temperament); a finger lands 30 % of the fret
/// space behind the wire.</remarks>
public sealed class NeckGeometry
{
    /// <summary>The highest capo position accepted.</summary>
    public const int HighestCapo = 11;

    /// <summary>The highest fret a shape can use, counted from the nut.</summary>
    public const int MostFrets = 24;

    private const double LandingBehindWire = 0.30;
    private readonly double[] _landing;
    private readonly double[] _space;
    private readonly double[] _leverage;
    private readonly double[] _spacing;

    /// <summary>The guitar measured.</summary>
    public Guitar Guitar { get; }

    /// <summary>The capo's fret, 0 for none.</summary>
    public int Capo { get; }

    /// <summary>The highest fret, counted from the capo, that a shape can use.</summary>
    public int HighestFret { get; }

    /// <summary>Measures a guitar.</summary>
    /// <param name="guitar">The guitar.</param>
    /// <param name="capo">0 to <see cref="HighestCapo"/>.</param>
    public NeckGeometry(Guitar guitar, int capo)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(capo);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(capo, HighestCapo);
        Guitar = guitar;
        Capo = capo;
        HighestFret = Math.Min(MostFrets, guitar.ReachableFrets + 5) - capo;
        _landing = new double[HighestFret + 1];
        _space = new double[HighestFret + 1];
        _leverage = new double[HighestFret + 1];
        _spacing = new double[HighestFret + 1];
        var nut = Wire(guitar, capo);
        var slope = (guitar.ActionAtFret12 - guitar.ActionAtFret1) / (Wire(guitar, 12) - Wire(guitar, 1));
        var saddleHeight = guitar.ActionAtFret1 + slope * (guitar.ScaleLength - Wire(guitar, 1));
        for (var fret = 1; fret <= HighestFret; fret++)
        {
            var (wire, behind) = (WireFromCapo(fret), WireFromCapo(fret - 1));
            _space[fret] = wire - behind;
            _landing[fret] = wire - LandingBehindWire * _space[fret];
            // Without a capo the nut slot lifts the string; a capo lays it on its own fret, so the string starts from height 0
            // there.
            var height = capo == 0
                ? guitar.ActionAtFret1 + slope * (wire - Wire(guitar, 1))
                : saddleHeight * (wire - nut) / (guitar.ScaleLength - nut);
            _leverage[fret] = height * (1 / (_landing[fret] - nut) + 1 / (guitar.ScaleLength - _landing[fret]));
            var along = _landing[fret] / guitar.ScaleLength;
            _spacing[fret] = (guitar.StringSpreadAtNut + along * (guitar.StringSpreadAtSaddle - guitar.StringSpreadAtNut))
                / (guitar.Tensions.Count - 1);
        }
    }

    private static double Wire(Guitar guitar, int fret) => guitar.ScaleLength * (1 - Math.Pow(2, -fret / 12.0));

    /// <summary>Distance from the bare neck's nut to a fret wire counted from the capo, mm; 0 is where the capo
    /// stands.</summary>
    public double WireFromCapo(int fret) => WireFromNut(Capo + fret);

    /// <summary>Distance from the bare neck's nut to a fret wire counted from the nut, mm.</summary>
    public double WireFromNut(int fret) => Wire(Guitar, fret);

    /// <summary>Where a fingertip lands for a fret, mm from the bare neck's nut.</summary>
    public double Landing(int fret) => _landing[fret];

    /// <summary>Length of a fret space, mm.</summary>
    public double FretSpace(int fret) => _space[fret];

    /// <summary>Distance between neighbouring strings at a fret, mm.</summary>
    public double StringSpacing(int fret) => _spacing[fret];

    /// <summary>Force to press a string down at a fret, N: T·h·(1/a + 1/b).</summary>
    public double PressForce(int stringIndex, int fret) =>
        Guitar.Tensions[Math.Min(stringIndex, Guitar.Tensions.Count - 1)] * _leverage[fret];
}
