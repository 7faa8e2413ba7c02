using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>The first fingerings of shapes with their loads and parts.</summary>
internal static class LoadLook
{
    public static int Run(IReadOnlyList<string> shapes)
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: false);
        foreach (var shape in shapes)
            foreach (var f in finder.Find(Shape.Parse(shape), 3))
                Console.WriteLine(
                    $"{f,-22} {f.Load.Value,5:0.0}  {string.Join(" ", f.Parts.Select(p => $"{p.Kind}:{p.Effort:0.0}"))}");
        return 0;
    }
}
