using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>A sheet to hand out: one rung for one student.</summary>
internal sealed class SheetModel(LadderDesk desk, StudioSettings studio) : PageModel
{
    public const int BarsInALine = 4;

    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;
    public PlayableRung? Below { get; private set; }
    public string Paper { get; private set; } = "a4";
    public bool Words { get; private set; } = true;
    public bool FretsFromNut { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, Guid? hand, string? paper, string? frets, bool words = true)
    {
        if (await desk.OpenHandAsync(id, student, hand, HttpContext.RequestAborted) is not { } open) return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Limits.Number == rung) ?? feasible.FirstOrDefault(r => r.Limits.Number == open.WorkingRung) ?? feasible[0];
        Below = feasible.LastOrDefault(r => r.Limits.Height < Rung.Limits.Height);
        Paper = paper == "letter" ? "letter" : "a4";
        Words = words;
        FretsFromNut = frets switch { "nut" => true, "capo" => false, _ => studio.FretsFromNut };
        return Page();
    }

    /// <summary>How the rung fits the student.</summary>
    public VersionFit Fit => Open.FitOf(Rung)!;

    /// <summary>What the marks behind and before chords mean, those that the chart has.</summary>
    public string LengthWords
    {
        get
        {
            var bars = Rung.Song.Chart.Sections.SelectMany(s => s.Bars).ToList();
            var marks = bars.SelectMany(b => b.Slots.Select(s => BeatDots.Of(b, s))).Where(m => m.Length > 0).ToList();
            return (marks.Exists(m => m[0] == '·') ? " A dot behind a chord holds it for another beat." : "") + (marks.Exists(m => m[0] != '·') ? " A number behind a chord says its beats." : "")
                + (bars.Exists(b => b.Slots.Any(s => s.IsEarly)) ? " ‹ comes early, on the \"and\" before its beat." : "");
        }
    }

    /// <summary>Chords the teacher wants in place of the record's, with her reasons.</summary>
    public IReadOnlyList<string> OwnWords => [.. Rung.Played.Where(c => c.Choice.Wanted && !c.IsSecond).Select(c =>
        $"{c.Choice.Played.Named(studio.NoteNames).Name} for {c.ShapeChord.Named(studio.NoteNames).Name}{(c.ShapeChord.Section is { } section ? $" in {section}" : "")}: {(string.IsNullOrEmpty(c.Reason) ? "as your teacher has it" : c.Reason)}.")];

    /// <summary>The shapes to draw: one that a chord has in a section as everywhere else is drawn once.</summary>
    public IReadOnlyList<RungChord> Shapes => [.. Rung.Played.Where(c => c.IsSecond || c.ShapeChord.Section is null || !Rung.Played.Any(o => o.ShapeChord.Section is null && o.ShapeChord.Name == c.ShapeChord.Name && o.Choice.SameAs(c.Choice)))];

    /// <summary>In which order the version is learnt.</summary>
    public LearningOrder Order => field ??= LearningOrder.Of(Rung, Fit);

    /// <summary>The chord as the shapes name it.</summary>
    public Chord AsShape(Chord sounding) => sounding.Transpose(Open.Ladder.Chart.Key, Open.Ladder.ShapeKey);

    /// <summary>The change that takes this student longest against the time there is, as chords; null when all are in time.</summary>
    public (RungChord From, RungChord To)? HardestChange =>
        Fit.Changes.OrderBy(c => c.InTime).FirstOrDefault() is { InTime: < 0.9 } change ? (Rung.Chords[change.From], Rung.Chords[change.To]) : null;

    public string CountWords(int count, string thing) => count == 1 ? $"one {thing}" : $"{count} {thing}s";
}
