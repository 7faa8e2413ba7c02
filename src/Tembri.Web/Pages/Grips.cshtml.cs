using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages;

/// <summary>The teacher's own grips: how she plays each chord first, whether thumbs are used, which chords of her own stand in
/// for others.</summary>
[MayBeASecondOld]
internal sealed class GripsModel(TembriDbContext context, ResultCache results, ArrangingOrders orders,
    StudioSettings studio) : PageModel
{
    /// <summary>The chords every teacher has a habit for.</summary>
    private static readonly IReadOnlyList<string> Everyday = ["G", "C", "D", "A", "E", "F", "Em", "Am", "Dm", "Bm", "F#m", "B7",
        "E7", "A7", "D7", "G7", "Em7", "Am7", "Cadd9", "Fmaj7", "Bb"];

    private const int MostOffered = 10;
    private readonly FingeringBook _book = new(results, Guitar.Steel, Hand.Medium, true, 0);

    /// <summary>A chord with how it is played.</summary>
    /// <param name="Chord">The chord.</param>
    /// <param name="Shown">The grip, or what the arranger would play first.</param>
    /// <param name="IsOwn">True when the teacher chose it.</param>
    /// <param name="Own">Her wish; null when she has none.</param>
    public sealed record GripLine(Chord Chord, Fingering Shown, bool IsOwn, OwnGrip? Own);

    public IReadOnlyList<GripLine> Lines { get; private set; } = [];

    /// <summary>The chord that is open, and what it can be played with; null while none is.</summary>
    public (GripLine Line, IReadOnlyList<Candidate> Offered)? Open { get; private set; }

    /// <summary>What the teacher wants in the studio, as lines to take back.</summary>
    public IReadOnlyList<WishLine> Wishes { get; private set; } = [];

    public bool NoThumb { get; private set; }
    public uint Version { get; private set; }
    public string? Fault { get; private set; }
    public string Typed { get; private set; } = "";

    public async Task OnGetAsync(string? chord)
    {
        await LoadAsync();
        if (chord is not null) Look(chord);
    }

    /// <summary>Chooses how a chord is played first, or none.</summary>
    public Task<IActionResult> OnPostGripAsync(string? chord, string? frets, string? fingers,
        uint version) => ChangeAsync(version, wishes =>
    {
        if (!Chord.TryParse(chord ?? "", out var named)) return (wishes, "That is no chord symbol.");
        var others = wishes.Grips.Where(g => g.Chord != named!.Name || g.Always);
        if (string.IsNullOrEmpty(frets)) return (wishes with { Grips = [.. others] }, null);
        if (LadderDecisions.ShapeOf(frets) is not { } shape || LadderDecisions.Numbers(fingers) is not { Length: 6 } f
            || f.Any(n => n is < 0 or > 5) || _book.Finder.Weigh(shape, [.. f.Select(n => (Finger)n)]) is null)
            return (wishes, "That shape cannot be held so.");
        return (wishes with { Grips = [.. others, new OwnGrip(named!.Name, shape.Frets, f, RungSpan.All)] }, null);
    }, $"/studio/grips?chord={Uri.EscapeDataString(chord ?? "")}#open");

    /// <summary>Uses thumbs or not.</summary>
    public Task<IActionResult> OnPostThumbAsync(bool none, uint version) =>
        ChangeAsync(version, wishes => (wishes with { NoThumb = none }, null));

    /// <summary>Adds a chord that can stand in for another.</summary>
    public Task<IActionResult> OnPostStandInAsync(string? from, string? plays, uint version) => ChangeAsync(version, wishes =>
    {
        Typed = from ?? "";
        if (!Chord.TryParse((from ?? "").Trim(), out var asked))
            return (wishes, $"“{Shorten(from)}” is no chord symbol. {ChordReader.Read(from ?? "").Error}");
        if (!Chord.TryParse((plays ?? "").Trim(), out var played))
            return (wishes, $"“{Shorten(plays)}” is no chord symbol. {ChordReader.Read(plays ?? "").Error}");
        if (asked!.Name == played!.Name) return (wishes, "Both are the same chord.");
        if (wishes.StandIns.Count >= TeacherWishes.Most)
            return (wishes, $"{TeacherWishes.Most} are the most that are kept. Take some back first.");
        return (wishes.With(TeacherWishes.None with { StandIns = [new StandIn(asked.Name, played.Name)] }), null);
    });

    /// <summary>Takes a wish back.</summary>
    public Task<IActionResult> OnPostWithdrawAsync(string? wish, uint version) => ChangeAsync(version, wishes =>
        (Wishes.FirstOrDefault(w => w.Id == wish) is { } found ? wishes.Without(found.What) : wishes, null));

    private static string Shorten(string? text) =>
        PlainText.OneLine(text ?? "") is var line && line.Length > 20 ? line[..20] : line;

    private async Task<IActionResult> ChangeAsync(uint version,
        Func<TeacherWishes, (TeacherWishes Wishes, string? Fault)> change, string? then = null)
    {
        await LoadAsync();
        var row = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        var (next, fault) = change(TeacherWishes.Read(row.Wishes));
        if (fault is not null)
        {
            Fault = fault;
            return Page();
        }
        var text = next.IsEmpty ? "" : next.ToJson();
        if (text == row.Wishes) return Redirect(then ?? "/studio/grips");
        if (row.Version == version)
        {
            row.Wishes = text;
            try
            {
                await context.SaveChangesAsync();
                await orders.OrderAllAsync(HttpContext.RequestAborted);
                return Redirect(then ?? "/studio/grips");
            }
            catch (DbUpdateConcurrencyException) { context.ChangeTracker.Clear(); }
        }
        await LoadAsync();
        Response.StatusCode = StatusCodes.Status409Conflict;
        Fault =
            "The studio was changed in another tab or on another device after you opened this page. What you see is the newest; "
                + "do your step again if it is missing.";
        return Page();
    }

    private async Task LoadAsync()
    {
        var row = await context.Studios.AsNoTracking().SingleAsync(s => s.Id == context.CurrentStudioId);
        var wishes = TeacherWishes.Read(row.Wishes);
        (Version, NoThumb) = (row.Version, wishes.NoThumb);
        var names =
            Everyday.Select(e => Chord.Parse(e).Name).Concat(wishes.Grips.Where(g => !g.Always).Select(g => g.Chord)).Distinct();
        Lines = [.. names.Select(n => LineOf(n, wishes)).OfType<GripLine>()];
        Wishes = [.. WishLine.Of(wishes with { Grips = [.. wishes.Grips.Where(g => g.Always)], NoThumb = false },
            WishScope.Studio, null, studio.NoteNames)];
    }

    private GripLine? LineOf(string name, TeacherWishes wishes)
    {
        if (!Chord.TryParse(name, out var chord)) return null;
        var own = wishes.Grips.FirstOrDefault(g => g.Chord == chord!.Name && !g.Always);
        var held = own is null ? null : _book.Finder.Weigh(own.ToShape(), own.ToFingers());
        return (held ?? Offered(chord!).FirstOrDefault()?.Fingering) is { } shown
            ? new GripLine(chord!, shown, held is not null, own)
            : null;
    }

    private IEnumerable<Candidate> Offered(Chord chord) => new CandidateFinder(results).For(chord, _book, Accompaniment.Record)
        .Where(c => c.Kind is SubstitutionKind.None or SubstitutionKind.OtherFingering or SubstitutionKind.FewerStrings)
        .OrderBy(CandidateFinder.Strangeness).ThenBy(c => c.Fingering.ToString(), StringComparer.Ordinal);

    private void Look(string symbol)
    {
        Typed = symbol;
        if (!Chord.TryParse(symbol.Trim(), out var chord))
        {
            Fault = $"“{Shorten(symbol)}” is no chord symbol. {ChordReader.Read(symbol).Error}";
            return;
        }
        var line = Lines.FirstOrDefault(l => l.Chord.Name == chord!.Name) ?? LineOf(chord!.Name, TeacherWishes.None);
        if (line is null) { Fault = $"No shape of {chord!.Named(studio.NoteNames).Name} is taught."; return; }
        var offered = Offered(line.Chord).Take(MostOffered).ToList();
        Open = (line, offered);
    }
}
