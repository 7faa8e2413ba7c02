using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>What was read, put together: sections, form, key, capo.</content>
internal sealed partial class ChartTextRun
{
    public ChartReading Finish()
    {
        CloseRepeat();
        Drop();
        if (assumed is { } meter)
            Problem(1, 1,
                $"No meter is said, and the bars are those of {meter}, so they are read in it. Write time: {meter} at the top where "
                    + "that is right.");
        if (_header.CapoIsAmongWords && Array.FindIndex(_raw, ChartHeader.SaysCapo) is >= 0 and var words)
            Problem(words + 1, ChartHeader.CapoIn(_raw[words]) + 1,
                $"Capo {_header.Capo} stands among words here and is taken. Write capo: {_header.Capo} at the top where that is right, "
                    + "capo: none where it is not.");
        foreach (var (name, value, line, column) in _header.AmongWords)
            Problem(line, column,
                $"{value} stands among words here and is taken for the {name}. Write {name}: {value} at the top where that is "
                    + $"right, and the {name} that holds where it is not.");
        if (_meterIsFor is ( > 0 and var before, var said) && before == _bars && _meterFromHere != _header.Meter)
            Problem(said, 1, $"Behind this {_meterFromHere} no bars follow; write the meter of the song above its bars.");
        var sections = new Dictionary<string, Section>(StringComparer.OrdinalIgnoreCase);
        var inOrder = new List<Section>();
        var withBars = _sections.Where(s => !s.IsEmpty).Select(s => s.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var open in _sections)
        {
            FillBarsSaid(open);
            if (open.IsEmpty)
            {
                // A name alone plays the section of that name again.
                if (!withBars.Contains(open.Name) && !_sayNothing.Contains(open.Name))
                    Problem(open.Line, 1, $"The section {open.Name} has no bars; write some, or name a section that has.");
                continue;
            }
            var written = open.Name;
            for (var copy = 2; sections.ContainsKey(open.Name); copy++) open.Name = $"{written} ({copy})";
            var parent = open.Like is { } like ? sections.GetValueOrDefault(like) : null;
            if (parent is null && open.Strum.Length == 0) open.Strum = _songStrum;
            if (parent is not null && !RoomForCopy(parent, open.Line)) continue;
            var section = open.Finish(parent,
                _header.Strings.Shift(_header.Tuning + (_header.Capo == 0 ? _header.RecordCapo : 0)), Problem);
            if (section.Bars.Count == 0) continue;
            sections.Add(open.Name, section);
            inOrder.Add(section);
        }
        return Finish(inOrder, sections);
    }

    private const int FewestAlike = 4;   // bars of one length that show a meter
    private const int MostReadAgain = 500;   // bars of a text that is read once more for it

    /// <summary>The meter the bars show where none is said: at least half of them have beats of their own, all as many and not
    /// four, and the others have one chord each. Null where they show none.</summary>
    public Meter? MeterOfBars(Chart chart)
    {
        if (assumed is not null || _header.IsMeterSaid) return null;
        var bars = chart.Sections.Where(s => s.Like is null).SelectMany(s => s.Bars).ToList();
        var counted = bars.FindAll(b => b.Beats != Meter.Common.Beats);
        if (bars.Count > MostReadAgain || counted.Count < FewestAlike || 2 * counted.Count < bars.Count
            || counted.Exists(b => b.Meter != Meter.Common || b.Beats != counted[0].Beats)
            || bars.Exists(b => b.Beats == Meter.Common.Beats && b.Slots.Count > 1))
            return null;
        return counted[0].Beats switch
        {
            2 => new Meter(2, 4),
            3 => new Meter(3, 4),
            5 => new Meter(5, 4),
            6 => new Meter(6, 8),
            _ => null,
        };
    }

    /// <summary>A section that follows another one has as many bars as that one.</summary>
    private bool RoomForCopy(Section parent, int line)
    {
        if (_bars + parent.Bars.Count <= ChartLimits.MostBars)
        {
            _bars += parent.Bars.Count;
            return true;
        }
        if (_bars <= ChartLimits.MostBars)
            Problem(line, 1,
                $"A chart has at most {ChartLimits.MostBars:N0} bars, those of sections that follow others counted; this "
                    + "section and such ones after it are left out.");
        _bars = ChartLimits.MostBars + 1;
        return false;
    }

    private ChartReading Finish(List<Section> sections, Dictionary<string, Section> byName)
    {
        if (sections.Count == 0)
            Problem(1, 1,
                _isSourceOfPage
                    ? "This is the source of a web page; copy the text as the page shows it, without what stands between < and >."
                    : "No chords were found; write bars such as | C . G . |, or words with chords such as [C]Salt on the "
                        + "[G]sill.");
        var chart = new Chart
        {
            Title = _header.Title, Tempo = _header.Tempo, Meter = _header.Meter, TuningShift = _header.Tuning,
            Strings = _header.Strings, RecordCapo = _header.RecordCapo, VoiceShift = _header.Voice,
            Singer = _header.Singer, MelodyGiven = _header.Melody, Recordings = _header.Recordings, Extra = _header.Extra,
            Sections = sections,
        };
        var written = _sections.Where(o => byName.ContainsKey(o.Name) && !IsOnlySaid(o))
            .Select(o => new FormPart(byName[o.Name].Name, o.Times)).ToList();
        var (form, formLine) = ReadForm(byName) is var (said, at)
            ? (GoesOn(said, at) ? written.Concat(said).ToList() : said, at)
            : (written, 1);
        // The chord to end on comes behind an order that does not name it.
        if (_endsOn is { Name: var last } && byName.ContainsKey(last) && !form.Exists(p => p.Section == last))
            form.Add(new FormPart(last, 1));
        chart = chart with { Form = InLimits(form, byName, formLine) };
        return new ChartReading(WithKey(chart), _problems.ToList())
        {
            Naming = Naming, NamesAreSaid = _namesAreSaid, FormLine = _formLine, FormIsByOrder = _formIsByOrder,
            Listed = _listed, BeginsUnnamed = _beginsUnnamed,
        };
    }

    private Chart WithKey(Chart chart)
    {
        // Numbers count in the key that sounds, whatever shapes play it.
        if (Naming.IsByDegree)
            return chart with { Key = Naming.Key, KeyIsGiven = _header.Key is not null,
                RecordCapo = _header.RecordCapo == 0 ? _header.Capo : _header.RecordCapo };
        if (_header.Capo == 0 && _header.Key is { } said) return chart with { Key = said, KeyIsGiven = true };
        Chord[] chords = [.. chart.Played().Select(s => s.Chord).OfType<Chord>()];
        var guess = KeyFinder.Guess(chords);
        chart = chart with { Key = _header.Key ?? guess, KeyIsGiven = _header.Key is not null };
        if (_header.Capo == 0) return chart;
        // Written as shapes above a capo: what sounds is higher. A key that is given is the key that sounds, unless the shapes
        // as they stand are rather in it and nothing says which it is.
        var namesShapes = _header.Key is not { } given || !_header.IsSoundingKey
            && (given.Tonic.PitchClass == guess.Tonic.PitchClass && given.IsMinor == guess.IsMinor
                || KeyFinder.IsRather(chords, given, given.Transpose(-_header.Capo)));
        var written = namesShapes ? chart.Key : chart.Key.Transpose(-_header.Capo);
        var sounding = namesShapes ? chart.Key.Transpose(_header.Capo) : chart.Key;
        return ChartTransposer.Move(chart with { Key = written }, sounding, _header.Capo, keepPlaces: true)
            with { RecordCapo = _header.RecordCapo == 0 ? _header.Capo : _header.RecordCapo };
    }
}
