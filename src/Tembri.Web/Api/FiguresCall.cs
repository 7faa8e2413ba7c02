using Tembri.Core.Figures;
using Tembri.Core.Fretboard;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/figures</c>: the easiest way of a figure over the neck, from its notes or from tablature.</summary>
internal static class FiguresCall
{
    public sealed record NoteItem(int? Pitch, double? Beats);

    public sealed record Request(IReadOnlyList<NoteItem?>? Notes, string? Tab, double? Tempo, int? Capo,
        IReadOnlyList<int>? Tuning, string? Hand, string? Guitar, int? Position, int? Beats);

    public sealed record PlaceItem(int String, int Fret, int Finger, int Pitch, double At, double Beats);

    public sealed record PathItem(IReadOnlyList<PlaceItem> Path, double Cost);

    public sealed record RungItem(int Number, int Notes, double Load);

    public sealed record Answer(IReadOnlyList<PlaceItem> Path, double Cost, double Load, IReadOnlyList<PathItem> Alternatives,
        IReadOnlyList<RungItem> Rungs, IReadOnlyList<string> Problems);

    private const double SlowestTempo = 20, FastestTempo = 320;
    private const int HighestString = 96;
    private const int BarBeats = 4;
    private const double LongestNote = 64;
    private const int LongestTab = 20_000;

    public static Answer Handle(Request request)
    {
        var tempo = request.Tempo ?? 90;
        if (tempo is not (>= SlowestTempo and <= FastestTempo))
            throw new ApiProblem("tempo", $"A tempo is {SlowestTempo} to {FastestTempo} beats a minute.");
        var capo = Requests.ToCapo(request.Capo);
        var tuning = Requests.ToTuning(request.Tuning);
        if (tuning.Strings.Max() + capo > HighestString)
            throw new ApiProblem("tuning",
                $"With a capo at {capo} a string lies above MIDI note {HighestString}; tune it lower.");
        var neck = new NeckGeometry(Requests.ToGuitar(request.Guitar), capo);
        if (request.Position is < 1 or > NeckGeometry.MostFrets || request.Position > neck.HighestFret)
            throw new ApiProblem("position", $"A position is a fret from 1 to {neck.HighestFret}.");
        if (request.Beats is < 1 or > 24) throw new ApiProblem("beats", "A bar has 1 to 24 beats.");
        var (notes, problems) = NotesOf(request, tuning, capo);
        var finder = new FigurePathFinder(neck, Requests.ToHand(request.Hand), tuning.Shift(capo));
        var task = new FigureTask(notes, tempo, request.Position);
        for (var i = 0; i < notes.Count; i++)
            if (finder.PlacesOf(notes[i], task).Length == 0)
                throw new ApiProblem(request.Tab is null ? $"notes[{i}].pitch" : "tab",
                    $"Pitch {notes[i].Pitch.Midi} lies outside the neck{(request.Position is null ? "" : " in this position")}; "
                        + $"these strings reach from {tuning.Strings.Min() + capo} to "
                        + $"{tuning.Strings.Max() + capo + neck.HighestFret}.");
        // What is written as one finger's way may not be playable as such; the notes are.
        var best = finder.Find(task)
            ?? finder.Find(
                task = task with { Notes = [.. notes.Select(n => n.How == Ornament.Held ? n : n with { How = Ornament.None })] })
            ?? throw new ApiProblem("notes", "No hand of this size can play these notes one after another here.");
        return new Answer(
            Places(best, task.Notes), Math.Round(best.Cost, 4), Math.Round(best.Load, 1),
            [.. finder.Others(task with { Places = false }).Where(o => o.Cost >= best.Cost - 1e-9)
                .Select(o => new PathItem(Places(o, task.Notes), Math.Round(o.Cost, 4)))],
            Rungs(finder, task, best.Load), problems);
    }

    private static (IReadOnlyList<FigureNote> Notes, IReadOnlyList<string> Problems) NotesOf(Request request, Tuning tuning,
        int capo)
    {
        if (!string.IsNullOrWhiteSpace(request.Tab))
        {
            if (request.Tab.Length > LongestTab)
                throw new ApiProblem("tab", $"Tablature has at most {LongestTab:N0} characters.");
            if (tuning.Strings.Count != 6) throw new ApiProblem("tuning", "Tablature is read for six strings.");
            var read = TabReader.Read(request.Tab, request.Beats ?? BarBeats, 4, tuning.Shift(capo));
            return read.Notes.Count > 0
                ? (read.Notes, read.Problems)
                : throw new ApiProblem("tab",
                    read.Problems.Count > 0
                        ? read.Problems[0]
                        : "There is no note in this tablature; write frets as numbers on six lines.");
        }
        if (request.Notes is not { Count: > 0 })
            throw new ApiProblem("notes",
                "The notes are missing; give each a pitch as a MIDI number and its beats, or six lines of tablature as 'tab'.");
        if (request.Notes.Count > Figure.MostNotes)
            throw new ApiProblem("notes", $"A figure has at most {Figure.MostNotes} notes.");
        var (notes, at) = (new List<FigureNote>(), 0.0);
        for (var i = 0; i < request.Notes.Count; i++)
        {
            var note = request.Notes[i] ?? throw new ApiProblem($"notes[{i}]", "This note is missing; give a pitch and beats.");
            var beats = note.Beats ?? 1;
            if (beats is not (> 0 and <= LongestNote))
                throw new ApiProblem($"notes[{i}].beats", $"A note lasts more than 0 and at most {LongestNote} beats.");
            if (note.Pitch is < 0 or > 127)
                throw new ApiProblem($"notes[{i}].pitch", "A pitch is a MIDI number from 0 to 127, or null for a rest.");
            if (note.Pitch is { } pitch) notes.Add(new FigureNote(FigureLine.PitchOf(pitch), at, beats));
            at += beats;
        }
        return notes.Count > 0 ? (notes, []) : throw new ApiProblem("notes", "There are only rests; give at least one pitch.");
    }

    private static IReadOnlyList<PlaceItem> Places(FigurePath path, IReadOnlyList<FigureNote> notes) =>
        [.. path.Places.Select((p, i) => new PlaceItem(p.String, p.Fret, (int)p.Finger, notes[i].Pitch.Midi,
            Math.Round(notes[i].At, 4), Math.Round(notes[i].Beats, 4)))];

    private static List<RungItem> Rungs(FigurePathFinder finder, FigureTask task, double load)
    {
        var rungs = new List<RungItem>();
        for (var rung = FigureRungs.Top; rung >= 1; rung--)
        {
            var simpler = FigureRungs.Of(new Figure(0, task.Notes), rung, 2);
            // With notes left out it is never heavier: the way of the whole would do.
            load = simpler is null ? 0 : Math.Min(load, finder.Find(task with { Notes = simpler.Notes })?.Load ?? load);
            rungs.Insert(0, new RungItem(rung, simpler?.Notes.Count ?? 0, Math.Round(load, 1)));
        }
        return rungs;
    }
}
