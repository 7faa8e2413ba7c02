using System.Text.RegularExpressions;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>A shape with the fingering a person wrote down for it.</summary>
/// <param name="Kind">The chord's kind without its root, which cross-validation keeps together.</param>
/// <param name="Shape">The shape.</param>
/// <param name="Fingers">The person's fingers.</param>
internal sealed partial record PublishedFingering(string Kind, Shape Shape, IReadOnlyList<Finger> Fingers)
{
    [GeneratedRegex("^[A-G][#b♯♭]?")]
    private static partial Regex Root();

    /// <summary>Reads the file: a line of explanation, a line of headings, then name, frets, fingers.</summary>
    public static List<PublishedFingering> Read(
        string file) => [.. File.ReadLines(file).Where(l => !l.StartsWith('#')).Skip(1).Select(line =>
    {
        var cells = line.Split(',');
        Finger[] fingers = [.. cells[2].Split(' ').Select(f => f == "T" ? Finger.Thumb : (Finger)(f[0] - '0'))];
        return new PublishedFingering(Root().Replace(cells[0], ""),
            new Shape([.. cells[1].Split(' ')
                .Select(f => f == "x" ? -1 : int.Parse(f, System.Globalization.CultureInfo.InvariantCulture))]), fingers);
    })];
}
