using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Students;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Sheets;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>A sheet to hand out: one rung for one student.</summary>
[MayBeASecondOld]
internal sealed class SheetModel(LadderDesk desk, StudioSettings studio, Booklet booklet, StudentDoor door,
    ComputeLanes lanes) : PageModel
{
    public const int BarsInALine = 4;

    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;
    public PlayableRung? Below { get; private set; }
    public string Paper { get; private set; } = "a4";
    public bool Words { get; private set; } = true;
    public bool FretsFromNut { get; private set; }

    public SheetKind Kind { get; private set; }
    public bool Large { get; private set; }
    public NoteNames Names { get; private set; }

    /// <summary>The rungs in the booklet.</summary>
    public IReadOnlyList<int> Booked { get; private set; } = [];

    private const int LinkDays = 180;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, Guid? hand, string? paper, string? frets,
        SheetKind? kind, bool large, NoteNames? names, int[] rungs, bool words = true) =>
        await FindAsync(id, student, rung, hand, paper, frets, kind, large, names, rungs, words) ?? Page();

    /// <summary>The sheet as a file to print or to send, with as many rungs as were asked for.</summary>
    public async Task<IActionResult> OnGetPdfAsync(Guid id, Guid student, int? rung, Guid? hand, string? paper, string? frets,
        SheetKind? kind, bool large, NoteNames? names, int[] rungs, bool words = true) =>
        await FindAsync(id, student, rung, hand, paper, frets, kind, large, names, rungs, words) ?? await WriteAsync(null);

    /// <summary>The same with a code to the student's page. A link is kept as a digest only, so this makes a new one, and the
    /// one before ends.</summary>
    public async Task<IActionResult> OnPostPdfAsync(Guid id, Guid student, int? rung, Guid? hand, string? paper, string? frets,
        SheetKind? kind, bool large, NoteNames? names, int[] rungs, bool words = true) =>
        await FindAsync(id, student, rung, hand, paper, frets, kind, large, names, rungs, words)
            ?? await WriteAsync($"{Request.Scheme}://{Request.Host}{Paths.My(await door.MakeAsync(student, LinkDays, HttpContext.RequestAborted))}");

    private async Task<IActionResult?> FindAsync(Guid id, Guid student, int? rung, Guid? hand, string? paper, string? frets,
        SheetKind? kind, bool large, NoteNames? names, int[] rungs, bool words)
    {
        if (await desk.OpenHandAsync(id, student, hand, HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Limits.Number == rung)
            ?? feasible.FirstOrDefault(r => r.Limits.Number == open.WorkingRung) ?? feasible[0];
        Below = BelowOf(Rung);
        Paper = paper switch { "letter" => "letter", "a4" => "a4", _ => studio.Sheets.IsLetter ? "letter" : "a4" };
        Words = words;
        FretsFromNut = frets switch { "nut" => true, "capo" => false, _ => studio.FretsFromNut };
        Kind = kind ?? studio.Sheets.Kind;
        Large = large || studio.Sheets.Large && !Request.Query.ContainsKey("kind");
        Names = names ?? studio.NoteNames;
        Booked = [.. feasible.Select(r => r.Number).Where(rungs.Contains)];
        return null;
    }

    private PlayableRung? BelowOf(PlayableRung rung) =>
        Open.Ladder.Playable.LastOrDefault(r => r.Limits.Height < rung.Limits.Height);

    private async Task<IActionResult> WriteAsync(string? address)
    {
        var asked = new SheetAsked(Kind, Paper == "letter", Large, Words, FretsFromNut, Names) { Address = address };
        var rungs = Booked.Count == 0 ? [Rung] : Booked.Select(Open.Ladder.Played).ToList();
        var name =
            $"{Open.Song.Title}, {(rungs.Count == 1 ? $"rung {rungs[0].Limits.Label}" : $"rungs {string.Join(", ", rungs.Select(r => r.Limits.Label))}")} "
                + $"for {Open.Student.Nickname}";
        var pdf = await lanes.ForPageAsync(work => booklet.Write(name, rungs.Select(r => new RungSheet(
            new SheetOf(Open.Song.Title, Open.Student.Nickname, Open.Student.LeftHanded, Open.Ladder, r, BelowOf(r),
                Open.FitOf(r)!), asked).Write()), asked.IsLetter, cancel: work.Cancel), HttpContext.RequestAborted);
        return File(pdf, "application/pdf", $"{name}.pdf");
    }

    /// <summary>How the rung fits the student.</summary>
    public VersionFit Fit => Open.FitOf(Rung)!;

    /// <summary>What the marks behind and before chords mean, those that the chart has.</summary>
    public string LengthWords => VersionWords.Marks(Rung.Song.Chart);

    /// <summary>Chords the teacher wants in place of the record's, with her reasons.</summary>
    public IReadOnlyList<string> OwnWords => VersionWords.Own(Rung, studio.NoteNames);

    /// <summary>The shapes to draw.</summary>
    public IReadOnlyList<PlayedChord> Shapes => VersionWords.Drawn(Rung);

    /// <summary>In which order the version is learnt.</summary>
    public LearningOrder Order => field ??= LearningOrder.Of(Rung, Fit);

    /// <summary>The chord as the shapes name it.</summary>
    public Chord AsShape(Chord sounding) => sounding.Transpose(Open.Ladder.Chart.Key, Open.Ladder.ShapeKey);

    public string CountWords(int count, string thing) => count == 1 ? $"one {thing}" : $"{count} {thing}s";
}
