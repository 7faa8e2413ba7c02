using System.Globalization;
using System.Text;
using Tembri.Core.Music;

namespace Tembri.Core.Strums;

/// <summary>What the right hand does over and over: a cycle of one or two bars, strummed or picked.</summary>
/// <remarks>A value: two patterns are equal when they are written alike for the same meter with the same swing.</remarks>
public sealed class StrumPattern : IEquatable<StrumPattern>
{
    /// <summary>Swing of a beat that is divided evenly, percent of the beat before its "and".</summary>
    public const int Straight = 50;

    /// <summary>The most swing: the "and" comes three quarters into the beat.</summary>
    public const int MostSwing = 75;

    /// <summary>How a pattern is written in which the hand swings as it likes.</summary>
    public const string FreeNotation = "free";

    private const int LongestText = 8 * HandSteps.Most;   // strings picked at once take eight letters
    private static readonly int[] Divisions = [1, 2, 3, 4, 6];
    private readonly HandStep[] _steps;
    private readonly string[] _count;

    private StrumPattern(Meter meter, int bars, HandStep[] steps, int swing, bool isFree = false)
    {
        (Meter, Bars, _steps, Swing, IsFree) = (meter, bars, steps, swing, isFree);
        StepsPerBeat = steps.Length / (bars * meter.Beats);
        Notation = isFree ? FreeNotation : Write();
        _count = [.. Enumerable.Range(0, steps.Length).Select(CountAt)];
        Effort = StrumEffort.Of(this);
    }

    /// <summary>The meter it is for.</summary>
    public Meter Meter { get; }

    /// <summary>Bars of its cycle, 1 or 2.</summary>
    public int Bars { get; }

    /// <summary>Steps in each beat: 1, 2, 3, 4 or 6.</summary>
    public int StepsPerBeat { get; }

    /// <summary>Percent of the beat before its "and": 50 is straight, 67 a shuffle. Only beats of 2 or 4 steps swing.</summary>
    public int Swing { get; }

    /// <summary>True when nothing is written out: the hand keeps swinging and touches the strings as it likes.</summary>
    public bool IsFree { get; }

    /// <summary>The steps of the cycle.</summary>
    public IReadOnlyList<HandStep> Steps => _steps;

    /// <summary>As it is written; see <see cref="HandSteps"/>.</summary>
    public string Notation { get; }

    /// <summary>What it asks of the hand.</summary>
    public StrumEffort Effort { get; }

    /// <summary>Beats of the cycle.</summary>
    public int Beats => Bars * Meter.Beats;

    /// <summary>True when strings are picked and nothing is strummed.</summary>
    public bool IsPicked =>
        Array.Exists(_steps, s => s.Stroke == Stroke.Pick)
            && !Array.Exists(_steps, s => s.Stroke is Stroke.Down or Stroke.Up or Stroke.Muted);

    /// <summary>Reads a pattern.</summary>
    /// <param name="text">As in <see cref="HandSteps"/>, or <see cref="FreeNotation"/>; without a stroke between bars it is as
    /// short as the meter allows.</param>
    /// <param name="meter">The meter it is for.</param>
    /// <param name="pattern">The pattern.</param>
    /// <param name="fault">What is wrong with the text and what to write; empty when nothing is.</param>
    /// <param name="swing">See <see cref="Swing"/>.</param>
    public static bool TryParse(string? text, Meter meter, out StrumPattern pattern, out string fault, int swing = Straight)
    {
        pattern = null!;
        fault = "";
        text = text?.Trim() ?? "";
        if (swing is < Straight or > MostSwing)
            fault = $"A swing of {swing} percent is none; write {Straight} for straight beats up to {MostSwing}.";
        else if (text.Equals(FreeNotation, StringComparison.OrdinalIgnoreCase)) pattern = Free(meter, swing);
        else if (text.Length > LongestText) fault = $"A pattern has at most {HandSteps.Most} steps.";
        else if (HandSteps.ReadBars(text) is not { } bars)
            fault =
                $"'{text}' is not a pattern of the hand at letter {HandSteps.FirstUnread(text)}; write a letter a step: d down, "
                    + "u up, x damped, in capitals when leaned on, - passed, . at rest, s stopped; or picked: b the bass "
                    + "string, a the other bass, 1 to 6 a string, (b1) both at once.";
        else if (bars.Sum(b => b.Count) is 0 or > HandSteps.Most) fault = $"A pattern has 1 to {HandSteps.Most} steps.";
        else if (!bars.Exists(b => b.Exists(s => s.Sounds)))
            fault = "Nothing is struck in this pattern; write d, u, x or a string at one step at least.";
        else if (bars.Count > 2) fault = "A pattern is one bar long, or two.";
        else if (bars.Count == 2 && bars[0].Count != bars[1].Count)
            fault = $"The bars have {bars[0].Count} and {bars[1].Count} steps; both need the same.";
        else if (BarsOf(bars, meter) is not { } count)
            fault =
                $"{bars.Sum(b => b.Count)} steps do not share the {meter.Beats} beats of {meter} evenly; write "
                    + $"{string.Join(", ", Divisions.Select(d => d * meter.Beats))} steps for a bar, or twice as many for two.";
        else pattern = new StrumPattern(meter, count, [.. bars.SelectMany(b => b)], swing);
        return fault.Length == 0;
    }

    private static int? BarsOf(List<List<HandStep>> bars, Meter meter)
    {
        bool Divides(int steps, int barCount) =>
            steps % (barCount * meter.Beats) == 0 && Divisions.Contains(steps / (barCount * meter.Beats));
        if (bars.Count == 2) return Divides(2 * bars[0].Count, 2) ? 2 : null;
        return Divides(bars[0].Count, 1) ? 1 : Divides(bars[0].Count, 2) ? 2 : null;
    }

    /// <summary>Reads a pattern.</summary>
    /// <exception cref="FormatException">The text is none; the message says what to write.</exception>
    public static StrumPattern Parse(string text, Meter meter, int swing = Straight) =>
        TryParse(text, meter, out var pattern, out var fault, swing) ? pattern : throw new FormatException(fault);

    /// <summary>The hand swings down and up over each beat and touches the strings as it likes.</summary>
    public static StrumPattern Free(Meter meter, int swing = Straight)
    {
        var steps = new HandStep[meter.Beats * 2];
        for (var i = 0; i < steps.Length; i++) steps[i] = new HandStep(i % 2 == 0 ? Stroke.Down : Stroke.Up);
        return new StrumPattern(meter, 1, steps, swing, isFree: true);
    }

    /// <summary>The same cycle with other steps.</summary>
    /// <param name="steps">As many as it has.</param>
    internal StrumPattern With(IEnumerable<HandStep> steps) => new(Meter, Bars, [.. steps], Swing);

    /// <summary>The same pattern as a cycle of one bar, when its two are alike.</summary>
    internal StrumPattern Shortest()
    {
        var half = _steps.Length / 2;
        return Bars == 2 && _steps.AsSpan(0, half).SequenceEqual(_steps.AsSpan(half))
            ? new StrumPattern(Meter, 1, _steps[..half], Swing, IsFree)
            : this;
    }

    /// <summary>Where a step falls, in beats from the start of the cycle, swing counted.</summary>
    /// <param name="step">0 to the number of steps; the last is the end of the cycle.</param>
    public double At(int step)
    {
        var (beat, part) = (step / StepsPerBeat, step % StepsPerBeat / (double)StepsPerBeat);
        if (Swing == Straight || StepsPerBeat % 2 != 0 || part == 0) return beat + part;
        var and = Swing / 100.0;
        return beat + (part <= 0.5 ? part * 2 * and : and + (part - 0.5) * 2 * (1 - and));
    }

    /// <summary>How fine the grid is on which a step stands: 0 the bar line, 1 a beat, 2 half of one or an eighth of a compound
    /// one, 3 finer.</summary>
    public int Level(int step)
    {
        var within = step % StepsPerBeat;
        if (within == 0) return step % (StepsPerBeat * Meter.Beats) == 0 ? 0 : 1;
        return StepsPerBeat switch
        {
            2 or 3 => 2,
            4 => within == 2 ? 2 : 3,
            _ when Meter.IsCompound => within % 2 == 0 ? 2 : 3,
            _ => within == 3 ? 2 : 3,
        };
    }

    /// <summary>Parts of a beat that the grid of a step has: 1 on the beat, 2 or 3 for halves and thirds, 4 or 6 for what is
    /// finer.</summary>
    public int GridAt(int step) =>
        Level(step) switch { <= 1 => 1, 2 => StepsPerBeat == 3 || Meter.IsCompound ? 3 : 2, _ => StepsPerBeat };

    /// <summary>True when the hand goes down at a step as it swings: every second one, and each beat of three.</summary>
    public bool IsDownward(int step) => StepsPerBeat % 2 == 0 ? step % 2 == 0 : step % StepsPerBeat == 0;

    /// <summary>The count under each step: <c>1 &amp; 2 &amp;</c>, <c>1 e &amp; a</c>, <c>1 la li</c>; in compound meters the
    /// eighths are counted.</summary>
    public IReadOnlyList<string> Count => _count;

    private string CountAt(int step)
    {
        var (beat, within) = (step / StepsPerBeat % Meter.Beats, step % StepsPerBeat);
        string Number(int n) => n.ToString(CultureInfo.InvariantCulture);
        if (Meter.IsCompound)
            return StepsPerBeat switch
            {
                1 => Number(beat * 3 + 1),
                3 => Number(beat * 3 + within + 1),
                6 => within % 2 == 0 ? Number(beat * 3 + within / 2 + 1) : "&",
                _ => within == 0 ? Number(beat * 3 + 1) : "&",
            };
        if (within == 0) return Number(beat + 1);
        return StepsPerBeat switch
        {
            2 => "&",
            3 => within == 1 ? "la" : "li",
            4 => within == 1 ? "e" : within == 2 ? "&" : "a",
            _ => within == 3 ? "&" : "·",
        };
    }

    /// <summary>What is said while playing: the beats, and of what lies between them only what is struck: <c>1 &amp; 2 &amp; 3 e
    /// &amp;</c>.</summary>
    public string SpokenCount =>
        string.Join(' ',
            Enumerable.Range(0, _steps.Length).Where(i => i % StepsPerBeat == 0 || _steps[i].Sounds).Select(i => _count[i]));

    /// <summary>Load of the right hand at a tempo, 0 to 100.</summary>
    /// <param name="tempo">Beats a minute.</param>
    public double LoadAt(double tempo) => Effort.LoadAt(tempo);

    /// <summary>Beats from a stroke that sounds to the next, on the average.</summary>
    public double BeatsAStroke => Beats / (double)Math.Max(1, _steps.Count(s => s.Sounds));

    private string Write()
    {
        var text = new StringBuilder(_steps.Length + 1);
        for (var i = 0; i < _steps.Length; i++)
        {
            if (Bars == 2 && i == _steps.Length / 2) text.Append('|');
            text.Append(_steps[i].ToString());
        }
        return text.ToString();
    }

    /// <inheritdoc/>
    public bool Equals(StrumPattern? other) =>
        other is not null && Meter == other.Meter && Swing == other.Swing && Notation == other.Notation;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as StrumPattern);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Meter, Swing, Notation);

    /// <inheritdoc/>
    public override string ToString() => Notation;
}
