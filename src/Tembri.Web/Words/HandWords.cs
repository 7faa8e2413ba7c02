using System.Globalization;
using Tembri.Core.Ladders;

namespace Tembri.Web.Words;

/// <summary>Says where a version made by hand belongs.</summary>
internal static class HandWords
{
    /// <summary>Its place on the ladder, in one or two sentences.</summary>
    public static string Place(HandMade made, Ladder ladder)
    {
        var (rung, playable) = (made.Rung, ladder.Playable.ToList());
        var (below, above) =
            (playable.LastOrDefault(r => r.Load <= rung.Load + 1e-6), playable.FirstOrDefault(r => r.Load > rung.Load + 1e-6));
        var place = (below, above) switch
        {
            ({ } b, _) when rung.Load - b.Load < 0.5 =>
                string.Create(CultureInfo.InvariantCulture, $"By load it stands beside rung {b.Limits.Label} ({b.Load:0})."),
            ({ } b,
                { } a) => string.Create(CultureInfo.InvariantCulture,
                    $"By load it belongs between rung {b.Limits.Label} ({b.Load:0}) and rung {a.Limits.Label} ({a.Load:0})."),
            ({ } b,
                null) => string.Create(CultureInfo.InvariantCulture,
                    $"It is heavier than every rung; rung {b.Limits.Label} weighs {b.Load:0}."),
            (null,
                { } a) => string.Create(CultureInfo.InvariantCulture,
                    $"It is lighter than every rung; rung {a.Limits.Label} weighs {a.Load:0}."),
            _ => "",
        };
        return made.Better is { } better
            ? string.Create(CultureInfo.InvariantCulture,
                $"{place} Rung {better.Limits.Label} is "
                    + $"{(better.Load < rung.Load - 1 ? better.Closeness > rung.Closeness + 0.01 ? "lighter and closer" : "lighter and no farther off" : "closer and no heavier")} "
                    + $"({better.Load:0}, {100 * better.Closeness:0} %).")
            : place;
    }
}
