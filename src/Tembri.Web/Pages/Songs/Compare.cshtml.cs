using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Sound;

namespace Tembri.Web.Pages.Songs;

/// <summary>Two rungs of a ladder side by side, or a rung and the record: what differs is marked, and both are heard at the same
/// place.</summary>
[MayBeASecondOld]
internal sealed class CompareModel(LadderDesk desk) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;

    /// <summary>The rung on the left; the record's when it is compared with the record.</summary>
    public PlayableRung Left { get; private set; } = null!;

    public PlayableRung Right { get; private set; } = null!;

    /// <summary>A bar as both play it.</summary>
    /// <param name="Section">Its section.</param>
    /// <param name="Bar">Its place in it.</param>
    /// <param name="Left">What the left one plays.</param>
    /// <param name="Right">What the right one plays.</param>
    /// <param name="Differs">True when shapes or chords differ.</param>
    public sealed record BarPair(int Section, int Bar, IReadOnlyList<PlayedChord> Left, IReadOnlyList<PlayedChord> Right,
        bool Differs);

    /// <summary>The bars of the chart that are played, each at its first pass.</summary>
    public IReadOnlyList<BarPair> Bars { get; private set; } = [];

    public VersionFit FitOf(PlayableRung rung) => Open.FitOf(rung)!;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? left, int? right) =>
        await LoadAsync(id, student, left, right) ?? Page();

    public async Task<IActionResult> OnGetScoreAsync(Guid id, Guid student, int? left, int? right) =>
        await LoadAsync(id, student, left, right) ?? new JsonResult(SoundScore.Of(Open.Ladder, Right, Left));

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student, int? left, int? right)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var rungs = open.Ladder.Playable.ToList();
        if (rungs.Count == 0) return Redirect(Paths.Ladder(id, student));
        Right = rungs.Find(r => r.Number == right) ?? rungs[^1];
        Left = rungs.Find(r => r.Number == left) ?? rungs.Find(r => r.Number == open.WorkingRung && r != Right) ?? rungs[0];
        Bars = BarsOf();
        return null;
    }

    private List<BarPair> BarsOf()
    {
        var seen = new HashSet<(int, int)>();
        var pairs = new List<BarPair>();
        var played = 0;
        foreach (var (section, bar) in Open.Ladder.Chart.PlayedPlaces())
        {
            if (seen.Add((section, bar)))
            {
                var (a, b) = (PlayedBy(Left, played, section, bar), PlayedBy(Right, played, section, bar));
                pairs.Add(new BarPair(section, bar, a, b,
                    a.Count != b.Count || a.Zip(b).Any(p => !p.First.Choice.SameAs(p.Second.Choice))));
            }
            played++;
        }
        return [.. pairs.OrderBy(p => p.Section).ThenBy(p => p.Bar)];
    }

    private static List<PlayedChord> PlayedBy(PlayableRung rung, int played, int section, int bar)
    {
        var chords = new List<PlayedChord>();
        for (var i = 0; i < rung.Song.Chart.Sections[section].Bars[bar].Slots.Count; i++)
            if (rung.Flow.ChordAt(played, i) is >= 0 and var chord && (chords.Count == 0 || chords[^1].Index != chord))
                chords.Add(rung.PlayedAs(chord));
        return chords;
    }
}
