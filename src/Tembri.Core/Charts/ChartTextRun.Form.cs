namespace Tembri.Core.Charts;

/// <content>The form: which section is played when, as far as a chart may be long.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>The form as far as it is played: no more parts and no more bars than a chart may have.</summary>
    private List<FormPart> InLimits(List<FormPart> form, Dictionary<string, Section> sections, int line)
    {
        var (kept, bars) = (new List<FormPart>(), 0);
        foreach (var part in form)
        {
            if (kept.Count == ChartLimits.MostFormParts)
            {
                Problem(line, 1,
                    $"A form has at most {ChartLimits.MostFormParts} parts; what follows {part.Section} is left out.");
                break;
            }
            var times = Math.Min(part.Times, (ChartLimits.MostPlayedBars - bars) / sections[part.Section].Bars.Count);
            if (times > 0) kept.Add(part with { Times = times });
            bars += times * sections[part.Section].Bars.Count;
            if (times == part.Times) continue;
            Problem(line, 1, $"A form plays at most {ChartLimits.MostPlayedBars:N0} bars; from {part.Section} on it is cut.");
            break;
        }
        return kept;
    }

    private List<FormPart>? ReadForm(Dictionary<string, Section> sections)
    {
        if (_header.Form is not { } form) return null;
        var parts = new List<FormPart>();
        var words = form.Text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        // Names of one word may stand between blanks or dashes, letters close together.
        if (words.Length == 1 && Meant(words[0], sections) is null)
        {
            var single = words[0].Split([' ', '-', '–', '—', '>', '→'], StringSplitOptions.RemoveEmptyEntries);
            if (single.Length == 1) single = [.. single[0].Select(c => c.ToString())];
            if (single.All(w => Meant(w, sections) is not null)) words = single;
        }
        for (var at = 0; at < words.Length && parts.Count <= ChartLimits.MostFormParts;)
        {
            var (name, times) = HeadingLine.Counted(words[at]);
            var section = Meant(name, sections);
            var taken = 1;
            // A name may hold commas itself: as many words as make one are taken together.
            for (var more = Math.Min(MostCommas + 1, words.Length - at); more > 1 && taken == 1; more--)
                if (HeadingLine.Counted(string.Join(", ", words[at..(at + more)])) is var (whole, count)
                    && sections.GetValueOrDefault(whole) is { } longer)
                    (section, times, taken) = (longer, count, more);
            at += taken;
            if (section is not null) parts.Add(new(section.Name, Math.Clamp(times, 1, ChartLimits.MostTimes)));
            else Problem(form.Line, 1, $"The form names a section '{name}' that is not in the chart; check its spelling.");
        }
        return parts.Count > 0 ? parts : null;
    }

    private const int MostCommas = 4;   // in the name of a section

    /// <summary>The section a form means: of this name, or the only one that is it with a word or a remark more, as A means A
    /// section and Bridge means Bridge (half time).</summary>
    private static Section? Meant(string name, Dictionary<string, Section> sections)
    {
        if (sections.GetValueOrDefault(name) is { } exact) return exact;
        var longer = sections.Values.Where(s => s.Name.StartsWith(name + " (", StringComparison.OrdinalIgnoreCase)
            || HeadingLine.BesideALetter.Any(w => s.Name.Equals($"{name} {w}", StringComparison.OrdinalIgnoreCase)
                || s.Name.Equals($"{w} {name}", StringComparison.OrdinalIgnoreCase))).Take(2).ToList();
        return longer.Count == 1 ? longer[0] : null;
    }
}
