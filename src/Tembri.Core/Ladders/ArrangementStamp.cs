using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>Stands for everything a ladder was made of: two ladders of one stamp are alike.</summary>
/// <param name="Model">Version of the model that made it.</param>
/// <param name="Chart">Digest of the chart's text.</param>
/// <param name="Kind">Key of the kind of player.</param>
/// <param name="Decisions">What the teacher decided, in one line; empty when nothing was.</param>
public readonly record struct ArrangementStamp(int Model, string Chart, string Kind, string Decisions)
{
    /// <summary>Goes up whenever the model gives other numbers; what older versions made is then made anew.</summary>
    public const int ModelVersion = 47;

    private const int LongestDecisions = 64;

    /// <summary>The stamp of a request.</summary>
    /// <param name="chartDigest">See <see cref="DigestOf"/>.</param>
    /// <param name="request">The request; its chart is the one of the digest.</param>
    public static ArrangementStamp Of(string chartDigest, ArrangementRequest request) =>
        new(ModelVersion, chartDigest, request.Kind.Key, DecisionsOf(request));

    /// <summary>Digest of a text: 64 hexadecimal digits of SHA-256.</summary>
    public static string DigestOf(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));

    /// <summary>All of a request but chart and kind; empty when it is as usual, digested when it is long.</summary>
    internal static string DecisionsOf(ArrangementRequest request)
    {
        var usual = new ArrangementRequest { Chart = request.Chart, Kind = request.Kind };
        var parts = new List<string>();
        void Add<T>(string name, T value, T usually) where T : notnull
        {
            if (!value.Equals(usually)) parts.Add(string.Create(CultureInfo.InvariantCulture, $"{name}={value}"));
        }
        Add("aim", request.Aim, usual.Aim);
        if (request is { Aim: Aim.Voice, Voice: { } voice }) Add("voice", $"{voice.Semitones},{voice.Singer},{voice.Tune}", "");
        Add("highest", request.HighestCapo, usual.HighestCapo);
        Add("up", request.CapoUp, usual.CapoUp);
        Add("with", request.Accompaniment, usual.Accompaniment);
        Add("capo", request.Capo ?? -1, -1);
        Add("tuning", request.Tuning ?? int.MinValue, int.MinValue);
        if (request.Strings is { } strings) parts.Add($"strings={string.Join('-', strings.Strings)}");
        foreach (var locked in request.Locks.Select(Words).Order(StringComparer.Ordinal)) parts.Add(locked);
        foreach (var ((from, to), count) in request.Timed.CleanAMinute.OrderBy(t => $"{t.Key.From} {t.Key.To}",
            StringComparer.Ordinal))
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"{from}>{to}={count}"));
        if (!request.Wishes.IsEmpty) parts.Add(request.Wishes.ToJson());
        if (!ReferenceEquals(request.Rungs, usual.Rungs)) parts.Add(JsonSerializer.Serialize(request.Rungs));
        var all = string.Join(' ', parts);
        return all.Length <= LongestDecisions ? all : DigestOf(all);
    }

    private static string Words(ShapeLock l) => string.Create(CultureInfo.InvariantCulture,
        $"{l.Rung}:{l.Chord}@{l.ShapeTonic}={l.Shape}{string.Concat(l.Fingers?.Select(f => (int)f) ?? [])}");
}
