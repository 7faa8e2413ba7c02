namespace Tembri.Web.Drawings;

/// <summary>A wedge a student: the fuller, the higher the rung that is ready.</summary>
public static class ReadyDrawing
{
    private const double Step = 20, Height = 30, Least = 3;

    /// <summary>Draws it.</summary>
    /// <param name="ready">For each student how high up the ladder the highest ready rung is, 0 to 1.</param>
    public static Scene Draw(IReadOnlyList<double> ready)
    {
        var marks = new List<Mark>();
        for (var i = 0; i < ready.Count; i++)
        {
            var (x, share) = (Step * (i + 0.5), Math.Clamp(ready[i], 0, 1));
            var (wide, tall) = (1.5 + 5 * share, Least + (Height - Least - 2) * share);
            marks.Add(share > 0
                ? new Area([(x - wide, Height - tall), (x + wide, Height - tall), (x, Height)])
                : new Line(x, Height - Least, x, Height, 1.2, Tone.Pencil));
        }
        return new Scene(Math.Max(Step, Step * ready.Count), Height,
            $"Ready on some rung for {ready.Count(r => r > 0)} of {ready.Count}", marks);
    }
}
