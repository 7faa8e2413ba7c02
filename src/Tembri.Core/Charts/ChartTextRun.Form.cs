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
        var (parts, unknown) = FormLine.Read(form.Text, sections.Values);
        foreach (var name in unknown)
            Problem(form.Line, 1, name.StartsWith('(')
                ? $"'{name}' in the form is not followed; write what is played there as a section of its own."
                : $"The form names a section '{name}' that is not in the chart; check its spelling.");
        return parts.Count > 0 ? parts : null;
    }
}
