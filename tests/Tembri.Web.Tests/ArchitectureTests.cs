using System.Reflection;
using ArchUnitNET.Domain;
using ArchUnitNET.Domain.Extensions;
using ArchUnitNET.Loader;
using Tembri.Core;
using Tembri.Data;
using Tembri.Formats;

namespace Tembri.Web.Tests;

/// <summary>Which way the parts of Tembri lean: the projects, and the rooms of Core.</summary>
public sealed class ArchitectureTests
{
    /// <summary>The rooms of Core, the first at the bottom: a room knows only those before it.</summary>
    private static readonly string[] Rooms =
    [
        "", "Music", "Chords", "Fretboard", "Hands", "Shapes", "Changes", "Strums", "Figures", "Charts", "Charts.Reading",
        "Charts.Editing", "Checking", "Hearing", "Substitutions", "Wishes", "Arranging", "Ladders", "Students", "Classes", "Roads",
        "Practice", "Planning", "Lessons", "Playing",
    ];

    private static readonly Architecture All = new ArchLoader()
        .LoadAssemblies(typeof(ResultCache).Assembly, typeof(ChartFiles).Assembly, typeof(TembriDbContext).Assembly,
            typeof(Program).Assembly).Build();

    private static IEnumerable<IType> Of(string project) =>
        All.Types.Where(
            t => ($"{t.Namespace.FullName}.").StartsWith(project + ".", StringComparison.Ordinal) && !t.IsCompilerGenerated);

    private static string? RoomOf(IType type) => type.Namespace?.FullName switch
    {
        "Tembri.Core" => "",
        { } name when name.StartsWith("Tembri.Core.", StringComparison.Ordinal) => name["Tembri.Core.".Length..],
        _ => null,
    };

    [Fact]
    public void Rooms_of_core_know_only_rooms_below_them()
    {
        var types = Of("Tembri.Core").Where(t => RoomOf(t) is not null).ToList();
        Assert.Equal(Rooms.Order(), types.Select(t => RoomOf(t)!).Distinct().Order());
        var upward =
            from type in types
            from target in type.GetTypeDependencies().Distinct()
            where RoomOf(target) is { } room && Array.IndexOf(Rooms, room) > Array.IndexOf(Rooms, RoomOf(type)!)
            select $"{type.FullName} knows {target.FullName}";
        Assert.Equal([], upward.Distinct());
    }

    [Theory]
    [InlineData("Tembri.Core", "Tembri.Formats", "Tembri.Data", "Tembri.Web")]
    [InlineData("Tembri.Formats", "Tembri.Data", "Tembri.Web")]
    [InlineData("Tembri.Data", "Tembri.Formats", "Tembri.Web")]
    public void Projects_lean_one_way(string project, params string[] above)
    {
        Assert.NotEmpty(Of(project));
        var upward = Of(project).SelectMany(t => t.GetTypeDependencies()).Select(d => d.FullName)
            .Where(name => above.Any(a => name.StartsWith(a + ".", StringComparison.Ordinal)));
        Assert.Equal([], upward.Distinct());
    }

    [Fact]
    public void Core_reads_no_files_no_net_no_clock_and_no_chance()
    {
        string[] outside =
        [
            "System.IO.File", "System.IO.Directory", "System.IO.FileStream", "System.IO.Path", "System.Net.", "System.Console",
            "System.Diagnostics.Process", "System.Diagnostics.Stopwatch",
            "System.TimeProvider", "System.Threading.Thread", "System.Threading.Timer", "Microsoft.",
        ];
        var used =
            from type in Of("Tembri.Core")
            from target in type.GetTypeDependencies()
            where outside.Any(
                o => o.EndsWith('.') ? target.FullName.StartsWith(o, StringComparison.Ordinal) : target.FullName == o)
            select $"{type.FullName} uses {target.FullName}";
        Assert.Equal([], used.Distinct());
        // Times and chance are handed in: a log has days, a simulated student a seed. None is made here.
        string[] made = ["get_Now", "get_UtcNow", "get_Today", "get_Shared"];
        var calls =
            Of("Tembri.Core").SelectMany(t => t.Dependencies.OfType<ArchUnitNET.Domain.Dependencies.MethodCallDependency>()
            .Where(d => d.Target.FullName is "System.Random" or "System.DateTime" or "System.DateTimeOffset"
                && (d.TargetMember.Name is var name
                    && (made.Any(m => name.StartsWith(m, StringComparison.Ordinal))
                        || d.Target.FullName == "System.Random" && name.StartsWith(".ctor", StringComparison.Ordinal))))
            .Select(d => $"{t.FullName} calls {d.Target.FullName}.{d.TargetMember.Name}"));
        Assert.Equal([], calls.Distinct());
        Assert.Contains(
            Of("Tembri.Core").SelectMany(t => t.Dependencies.OfType<ArchUnitNET.Domain.Dependencies.MethodCallDependency>()),
            d => d.Target.FullName == "System.DateTimeOffset");
    }

    [Fact]
    public void Core_keeps_no_state_of_its_own()
    {
        // What is static never changes: constants, tables read once, names of kinds of results. State is an object that is
        // passed in.
        string[] collections = ["Dictionary`2", "List`1", "HashSet`1", "ConcurrentDictionary`2", "ConcurrentBag`1", "Queue`1"];
        var fields =
            from type in typeof(ResultCache).Assembly.GetTypes()
            where type.Namespace?.StartsWith("Tembri.Core", StringComparison.Ordinal) == true
                && type.GetCustomAttribute<System.Runtime.CompilerServices.CompilerGeneratedAttribute>() is null
            from field in type.GetFields(
                BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.DeclaredOnly)
            where !field.IsLiteral && !field.Name.StartsWith('<')
            select (type, field);
        Assert.NotEmpty(fields);
        Assert.Equal([], fields.Where(f => !f.field.IsInitOnly).Select(f => $"{f.type.Name}.{f.field.Name} can be set"));
        Assert.Equal([],
            fields.Where(f => collections.Contains(f.field.FieldType.Name))
                .Select(f => $"{f.type.Name}.{f.field.Name} can be filled"));
    }
}
