using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Classes;

/// <summary>Chooses the key, the tempo, and for each player the capo and the rung, so that several who play one song sound
/// together.</summary>
/// <remarks>
/// Once the key is fixed the players do not know of each other, so each takes the capo and the rung with the best fit of all
/// (the higher rung, then the lower capo, where fits are equal); over the keys the one is taken
/// in which the worst off is best off, then the one with the greatest sum, then the nearest to the record. All keys, capos and
/// rungs are weighed, so nothing better exists.
/// A tempo that is left open is the highest whole one, at most the record's and at least half of it, at which in some key nine
/// of ten changes of everybody are in time; the key is chosen at that tempo.
/// </remarks>
public sealed class ClassArranger(LadderBuilder builder)
{
    private const double SlowestShare = 0.5;   // of the record's tempo
    private const double Hair = 1e-12;

    /// <summary>Makes the sheet.</summary>
    /// <param name="request">Who plays what.</param>
    /// <param name="work">How long it may take and on how many threads.</param>
    /// <exception cref="ArgumentException">There is no player, or one without a rung, or the chart cannot be
    /// arranged.</exception>
    /// <exception cref="ClassBlockedException">In no key can everybody play a rung that was asked for.</exception>
    public ClassSheet Arrange(ClassRequest request, WorkLimits work = default)
    {
        if (request.Players.Count is 0 or > ClassRequest.MostPlayers)
            throw new ArgumentException($"A class has 1 to {ClassRequest.MostPlayers} players.", nameof(request));
        if (request.Players.FirstOrDefault(p => p.Rungs.Count == 0) is { } without)
            throw new ArgumentException($"Player {without.Id} has no rung to choose from.", nameof(request));
        var chart = request.Tempo is { } given ? request.Chart with { Tempo = given } : request.Chart;
        var moves = request.Semitones is { } one ? [one] : Moves;
        var reached = VoiceKeys.Reached(VoiceWish.Of(chart), moves);
        var table = new Table(builder, request, chart, moves, work);
        var tempo = request.Tempo ?? HighestTempo(chart.Tempo, at => reached.Any(move => table.AllKeepUp(move, at)));
        var keys = moves.Select(move => (Move: move, Choices: table.Best(move, tempo))).ToList();
        var open = keys.Where(k => reached.Contains(k.Move) && k.Choices.All(c => c is not null)).ToList();
        if (open.Count == 0)
            throw new ClassBlockedException(
                request.Players[BlockedPlayer(keys.Where(k => reached.Contains(k.Move)).Select(k => k.Choices))].Id);
        var chosen = Chosen([.. open.Select(k => (k.Move, k.Choices.Min(c => c!.Fit), k.Choices.Sum(c => c!.Fit)))],
            request.Alike, request.Players.Count);
        var sounding = Moved(chart, chosen) with { Tempo = tempo };
        return new ClassSheet
        {
            Chart = sounding, Semitones = chosen, RecordTempo = request.Chart.Tempo,
            Parts = [.. keys.Single(k => k.Move == chosen).Choices.Select(
                (c, i) => Part(request.Players[i], c!, chart, chosen, sounding, request.Accompaniment, work))],
            Keys = [.. keys.Select(k => new ClassKey(
                k.Move, Moved(chart, k.Move).Key, k.Choices.All(c => c is not null) ? k.Choices.Min(c => c!.Fit) : null,
                k.Choices.Sum(c => c?.Fit ?? 0), !reached.Contains(k.Move)))],
        };
    }

    /// <summary>The moves that are looked at, from the record's key outwards.</summary>
    private static readonly int[] Moves = [0, -1, 1, -2, 2, -3, 3, -4, 4, -5, 5, 6];

    private static Chart Moved(Chart chart, int semitones) =>
        semitones == 0 ? chart : ChartTransposer.Move(chart, chart.Key.Transpose(semitones), semitones);

    /// <summary>The highest whole tempo at which a condition holds that holds at every slower one as well.</summary>
    private static double HighestTempo(double record, Func<double, bool> holds)
    {
        if (holds(record)) return record;
        double low = Math.Ceiling(record * SlowestShare), high = Math.Ceiling(record);
        if (!holds(low)) return low;
        while (high - low > 1)
        {
            var middle = Math.Floor((low + high) / 2);
            if (holds(middle)) low = middle;
            else high = middle;
        }
        return low;
    }

    /// <summary>The key in which the worst off is best off, then all together, then the nearest; <paramref name="keys"/> come
    /// nearest first.</summary>
    private static int Chosen(IReadOnlyList<(int Move, double Worst, double Sum)> keys, double alike, int players)
    {
        var worst = keys.Max(k => k.Worst);
        var among = keys.Where(k => k.Worst >= worst - alike - Hair).ToList();
        var sum = among.Max(k => k.Sum);
        return among.First(k => k.Sum >= sum - alike * players - Hair).Move;
    }

    /// <summary>Whoever is left without a rung in most keys.</summary>
    private static int BlockedPlayer(IEnumerable<IReadOnlyList<Choice?>> keys) =>
        keys.SelectMany(choices => choices.Select((c, i) => (c, i))).Where(x => x.c is null).GroupBy(x => x.i)
            .OrderByDescending(g => g.Count()).ThenBy(g => g.Key).Select(g => g.Key).FirstOrDefault();

    private ClassPart Part(ClassPlayer player, Choice choice, Chart chart, int move, Chart sounding, Accompaniment accompaniment,
        WorkLimits work)
    {
        // A tempo that was chosen reaches what depends on it, such as riffs.
        var rung = chart.Tempo == sounding.Tempo
            ? choice.Rung
            : builder.PlayedAt(player.Asking(chart with { Tempo = sounding.Tempo }, accompaniment), move, [choice.Rung.Capo],
                work)
            .Single().Rungs.OfType<PlayableRung>().Single(r => r.Number == choice.Rung.Number);
        // Each guitar stands as it stands.
        sounding = player.Asking(sounding, accompaniment).TunedChart;
        var flow = new ChordFlow(sounding);
        var weight = new TradeOff(rung.Load, rung.Closeness);
        var shapes = sounding.Key.Transpose(-(rung.Capo + sounding.TuningShift));
        var ladder = new Ladder
        {
            Chart = sounding, Flow = flow, Guards = GuardFinder.Find(flow, sounding.Key), Capo = rung.Capo,
            RecommendedCapo = rung.Capo, VoiceShift = move, ShapeKey = shapes,
            Places = [new Place(rung.Capo, shapes, [weight], [null], 0, 0)], Rungs = [rung], TradeOffs = [weight],
        };
        var fit = new VersionFit(VersionOutline.Of(rung, sounding.Tempo), player.Player);
        return new ClassPart(player.Id, ladder, fit, Sections(rung, player, fit, sounding));
    }

    private static List<ClassSection> Sections(PlayableRung rung, ClassPlayer player, VersionFit fit, Chart sounding)
    {
        var oneStroke = rung.Struck(rung.Hand.On(rung.Song.Chart, StrumLadder.OneStroke));
        var lighter = LearningOrder.Of(oneStroke,
                new VersionFit(VersionOutline.Of(oneStroke, sounding.Tempo), player.Player)).Sections.ToDictionary(
            s => s.Section, s => s.Good);
        var enough = FitWeights.Default.GrowingFrom;
        return [.. LearningOrder.Of(rung, fit).Sections.OrderBy(s => s.Section).Select(s => new ClassSection(
            s.Section, s.Good, lighter[s.Section],
            s.Good >= enough ? SectionPart.Plays : lighter[s.Section] >= enough ? SectionPart.OneStroke : SectionPart.Rests,
            player.Parts.TryGetValue(s.Section, out var wanted) ? wanted : null))];
    }

    private sealed record Choice(PlayableRung Rung, double Fit);

    /// <summary>Every version of the song that anybody could play: by kind of player, key and capo.</summary>
    private sealed class Table
    {
        private readonly IReadOnlyList<ClassPlayer> _players;
        private readonly PlayerOdds[] _odds;
        private readonly double _alike;
        private readonly Dictionary<(string Kind, int Move), List<PlayableRung>> _rungs = [];
        private readonly Dictionary<(PlayableRung, double), VersionOutline> _outlines = new(new ByVersion());

        public Table(LadderBuilder builder, ClassRequest request, Chart chart, IReadOnlyList<int> moves, WorkLimits work)
        {
            (_players, _alike) = (request.Players, request.Alike);
            _odds = [.. _players.Select(p => new PlayerOdds(p.Player))];
            var kinds = _players.GroupBy(p => p.Kind).ToList();
            // Kinds share shapes and fingerings, so they come together key by key, while these are still known.
            var jobs = moves.SelectMany(move => kinds.Select(k => (Kind: k, Move: move))).ToList();
            var found = new List<PlayableRung>[jobs.Count];
            Parallel.For(0, jobs.Count, work.Parallel, i =>
            {
                var (kind, move) = jobs[i];
                var capos = kind.SelectMany(p => p.Capo is { } own ? [own] : Enumerable.Range(0, request.HighestCapo + 1))
                    .Distinct().Order();
                var wanted = kind.SelectMany(p => p.Rungs).ToHashSet();
                found[i] = [.. builder.PlayedAt(kind.First().Asking(chart, request.Accompaniment), move, capos,
                        work with { MostThreads = 1 }).SelectMany(p => p.Rungs).OfType<PlayableRung>()
                    .Where(r => wanted.Contains(r.Number))];
            });
            for (var i = 0; i < jobs.Count; i++) _rungs[(jobs[i].Kind.Key, jobs[i].Move)] = found[i];
        }

        private IEnumerable<PlayableRung> RungsOf(int player, int move)
        {
            var p = _players[player];
            return _rungs[(p.Kind, move)].Where(r => p.Rungs.Contains(r.Number) && (p.Capo is null || p.Capo == r.Capo));
        }

        private VersionOutline OutlineOf(PlayableRung rung, double tempo)
        {
            if (!_outlines.TryGetValue((rung, tempo), out var outline))
                _outlines[(rung, tempo)] = outline = VersionOutline.Of(rung, tempo);
            return outline;
        }

        /// <summary>True when in a key everybody has a version in which nine of ten changes are in time.</summary>
        public bool AllKeepUp(int move, double tempo) => Enumerable.Range(0, _players.Count).All(p =>
            RungsOf(p, move)
                .Any(r => OutlineOf(r, r.Song.Chart.Tempo).InTime(tempo, _odds[p]) >= FitWeights.Default.ComfortableInTime));

        /// <summary>For each player the best version in a key; null where there is none.</summary>
        public IReadOnlyList<Choice?> Best(int move, double tempo) => [.. Enumerable.Range(0, _players.Count).Select(p =>
        {
            var choices = RungsOf(p, move).Select(r => new Choice(r, OutlineOf(r, tempo).Grade(_odds[p]).Fit)).ToList();
            var enough = choices.Count == 0 ? 0 : choices.Max(c => c.Fit) - _alike - Hair;
            return choices.Where(c => c.Fit >= enough).OrderByDescending(c => c.Rung.Number).ThenBy(c => c.Rung.Capo)
                .FirstOrDefault();
        })];

        /// <summary>Versions are told apart by which object they are: comparing what is in them would take long.</summary>
        private sealed class ByVersion : IEqualityComparer<(PlayableRung Rung, double Tempo)>
        {
            public bool Equals((PlayableRung Rung, double Tempo) a, (PlayableRung Rung, double Tempo) b) =>
                ReferenceEquals(a.Rung, b.Rung) && a.Tempo == b.Tempo;

            public int GetHashCode((PlayableRung Rung, double Tempo) key) =>
                HashCode.Combine(System.Runtime.CompilerServices.RuntimeHelpers.GetHashCode(key.Rung), key.Tempo);
        }
    }
}

/// <summary>In no key can everybody play a rung that was asked for.</summary>
/// <param name="player">Whoever is left without one; see <see cref="ClassPlayer.Id"/>.</param>
public sealed class ClassBlockedException(
    string player) : Exception($"Player {player} can play none of the rungs asked for in any key the others can play in.")
{
    /// <summary>Whoever is left without a rung.</summary>
    public string Player { get; } = player;
}
