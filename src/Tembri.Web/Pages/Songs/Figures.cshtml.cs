using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Songs;
using Tembri.Web.Sound;
using Section = Tembri.Core.Charts.Section;

namespace Tembri.Web.Pages.Songs;

/// <summary>Riffs, runs and licks of a song: written as notes, strings and frets or tablature, laid on the neck, made simpler
/// rung by rung.</summary>
[MayBeASecondOld]
internal sealed class FiguresModel(TembriDbContext context, LadderDesk desk, SongKeeper keeper) : PageModel
{
    private const int LongestWritten = 8_000;

    /// <summary>What a page sends of a figure.</summary>
    public sealed class FigureForm
    {
        /// <summary>Which figure of the section; one more than it has for a new one.</summary>
        [Range(0, FigureText.Most)]
        public int Number { get; set; }

        [Range(1, ChartLimits.MostBars, ErrorMessage = "The bar is a number from 1 on.")]
        public int Bar { get; set; } = 1;

        [Range(1, NeckGeometry.MostFrets, ErrorMessage = "A position is a fret from 1 on.")]
        public int? Position { get; set; }

        /// <summary>Notes of a figure's line, or six lines of tablature.</summary>
        [StringLength(LongestWritten, ErrorMessage = "A figure has at most 8,000 characters.")]
        public string? Notes { get; set; }
    }

    [BindProperty(SupportsGet = true)]
    public FigureForm Form { get; set; } = new();

    public OpenLadder Open { get; private set; } = null!;

    /// <summary>The section that is looked at, by its place in the chart.</summary>
    public int Section { get; private set; }

    public Section Part => Open.Reading.Chart.Sections[Section];
    public uint Version { get; private set; }
    public string? Fault { get; private set; }

    /// <summary>What of tablature could not be taken as it stands; empty when all was.</summary>
    public string Remark { get; private set; } = "";

    /// <summary>The figure in the form, as the chart holds it; null while none can be read.</summary>
    public Figure? Written { get; private set; }

    /// <summary>The figure on each rung, 1 first.</summary>
    public IReadOnlyList<RungFigure> Rungs { get; private set; } = [];

    /// <summary>Other ways over the neck.</summary>
    public IReadOnlyList<FigurePath> Others { get; private set; } = [];

    public bool IsNew => Form.Number >= Part.Figures.Count;

    /// <summary>True where the ladder plays at the record's place, so that strings and frets can be written.</summary>
    public bool IsRecordsPlace =>
        Open.Ladder.Capo == Open.Ladder.Chart.RecordCapo && Open.Ladder.Chart.TuningShift == Open.Reading.Chart.TuningShift;

    public RungFigure? Whole => Rungs.Count == FigureRungs.Top ? Rungs[^1] : null;

    public string Address(int section, int? number = null) =>
        $"{Paths.Figures(Open.Song.Id, Open.Student.Id)}?section={section}{(number is { } n ? $"&form.number={n}" : "")}";

    public Func<int, double?> BeatsOf(int bar) => FigureText.BeatsOf(bar, Part.Bars);

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? section)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        if (!ModelState.IsValid) Form = new FigureForm();
        ModelState.Clear();
        Form.Number = Math.Clamp(Form.Number, 0, Part.Figures.Count);
        if (Part.Figures.ElementAtOrDefault(Form.Number) is { } figure)
        {
            Form = new FigureForm
            {
                Number = Form.Number, Bar = figure.Bar + 1, Position = figure.Position,
                Notes = FigureLine.Write(figure, BeatsOf(figure.Bar))
            };
            Show(figure);
        }
        return Page();
    }

    /// <summary>A figure that is being written: where it lies, other ways, its rungs. Nothing is kept.</summary>
    public async Task<IActionResult> OnPostLookAsync(Guid id, Guid student, int? section)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        return Read() is { } fault ? Unreadable(fault) : Partial("_FigureLook", this);
    }

    /// <summary>What the browser plays of it.</summary>
    public async Task<IActionResult> OnPostScoreAsync(Guid id, Guid student, int? section, int from = 0,
        int to = Figure.MostNotes, int on = FigureRungs.Top)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        if (Read() is { } fault) return Unreadable(fault);
        if (Rungs[Math.Clamp(on, 1, FigureRungs.Top) - 1].Played is not { } heard)
            return Unreadable("On this rung nothing of it is played.");
        return new JsonResult(FigureScore.Of(heard, Part.UsualMeter, Open.Ladder.Chart.Tempo,
            Open.Ladder.Capo + Open.Ladder.Chart.TuningShift, Math.Max(0, from), to));
    }

    /// <summary>Writes the figure into the chart.</summary>
    public async Task<IActionResult> OnPostKeepAsync(Guid id, Guid student, int? section, uint version)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        return Read() is { } fault ? Refuse(fault) : await WriteAsync(id, version, Written);
    }

    /// <summary>Writes another way into the chart: its strings and frets.</summary>
    public async Task<IActionResult> OnPostWayAsync(Guid id, Guid student, int? section, uint version, int way)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        if (Read() is { } fault) return Refuse(fault);
        if (!IsRecordsPlace || Others.ElementAtOrDefault(way) is not { } chosen)
            return Refuse("That way is not offered here any more; choose again.");
        return await WriteAsync(id, version,
            Written! with { Position = null,
                Notes = [.. Written!.Notes.Select(
                    (n, i) => n with { Where = new StringFret(chosen.Places[i].String, chosen.Places[i].Fret) })] });
    }

    /// <summary>Takes the figure out of the chart.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(Guid id, Guid student, int? section, uint version)
    {
        if (await LoadAsync(id, student, section) is { } elsewhere) return elsewhere;
        ModelState.Clear();
        return await WriteAsync(id, version, null);
    }

    private async Task<IActionResult> WriteAsync(Guid id, uint version, Figure? figure)
    {
        if (await context.Songs.FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        var edited =
            ChartEdits.Figure(song.ChartText, Section, Form.Number, figure is null ? null : FigureText.Write(figure, Part.Bars));
        if (edited.Text is null) return Refuse(edited.Fault!);
        if (song.Version != version && song.ChartText != edited.Text) return Elsewhere();
        var (kept, stored) = await keeper.KeepAsync(song, edited.Text, song.Version, HttpContext.RequestAborted);
        if (!kept) return stored is null ? NotFound() : Elsewhere();
        return Redirect(Address(Section, figure is null ? 0 : Form.Number));
    }

    private IActionResult Elsewhere()
    {
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Refuse("The chart was written somewhere else after you opened it; your figure still stands in the box. Write it "
            + "again to put it there.");
    }

    private static JsonResult Unreadable(string fault) =>
        new(new { fault }) { StatusCode = StatusCodes.Status422UnprocessableEntity };

    private PageResult Refuse(string fault)
    {
        Fault = fault;
        return Page();
    }

    /// <summary>Reads what the form says; answers what is wrong with it.</summary>
    private string? Read()
    {
        if (!ModelState.IsValid)
            return ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage).FirstOrDefault(m => m.Length > 0)
                ?? "Something in the form cannot be read.";
        var (text, bar, chart) = (Form.Notes?.Trim() ?? "", Form.Bar - 1, Open.Reading.Chart);
        if (text.Length == 0) return "Write some notes, such as | E3 . G3 A3 |, or paste six lines of tablature.";
        if (bar >= Part.Bars.Count) return $"{Part.Name} has {Part.Bars.Count} bars; begin at one of them.";
        var problems = new List<string>();
        IReadOnlyList<FigureNote> notes;
        if (text.Contains('\n'))
        {
            var tab =
                TabReader.Read(text, Part.Bars[bar].Meter.Beats, Part.UsualMeter.IsCompound ? 6 : 4, chart.StringsAtRecord);
            (notes, problems) = (tab.Notes, [.. tab.Problems]);
        }
        else
            notes = FigureLine.Read(text, BeatsOf(bar), chart.StringsAtRecord,
                (at, message) => problems.Add($"At letter {at + 1}: {message}"));
        if (notes.Count == 0) return problems.Count > 0 ? problems[0] : "There is no note in it.";
        if (problems.Count > 0 && !text.Contains('\n')) return problems[0];
        var left = Part.Bars.Skip(bar).Sum(b => b.Beats);
        Show(new Figure(bar, [.. notes.Where(n => n.At < left - 1e-6)]) { Position = Form.Position });
        Remark = string.Join(" ", problems);
        return Whole?.Played is null
            ? "These notes cannot be played here: they lie outside the neck, or outside the position."
            : null;
    }

    private void Show(Figure figure)
    {
        Written = figure;
        var ladder = Open.Ladder;
        var kind = Open.Request.Kind
            with { Guitar = Open.Request.Kind.Guitar.Tuned(ladder.Chart.TuningShift).Strung(ladder.Chart.Strings) };
        // The song may be moved for a voice.
        var written = Open.Reading.Chart with { Sections = [
            .. Open.Reading.Chart.Sections.Select((s, i) => s with { Figures = i == Section ? [figure] : [] })] };
        var moved = ChartTransposer.Move(written, ladder.Chart.Key);
        var chart = ladder.Chart
            with { Sections = [.. ladder.Chart.Sections.Zip(moved.Sections, (s, m) => s with { Figures = m.Figures })] };
        var limits = Core.Arranging.RungLimits.Defaults;
        Rungs = [.. limits.SelectMany(l => RungFigure.Of(chart, l, kind, ladder.Capo, ladder.ShapeKey, (_, _) => null))];
        if (Whole is { Played: { } played })
            Others = new FigurePathFinder(new NeckGeometry(kind.Guitar, ladder.Capo), kind.Hand)
                .Others(new FigureTask(played.Notes, ladder.Chart.Tempo, null, null, Places: false));
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student, int? section)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        Section = section is { } s && s >= 0 && s < open.Reading.Chart.Sections.Count ? s : 0;
        Version = open.Song.Version;
        return null;
    }
}
