using System.CommandLine;
using System.Globalization;
using Tembri.Web.Mail;

namespace Tembri.Web.Operating;

/// <summary>The operator's command line: <c>Tembri.Web operator …</c>, with the same settings as the application. Says what it
/// did, or in one line what to do.</summary>
internal static class OperatorLine
{
    private const int Most = 200;

    /// <summary>Runs one command.</summary>
    /// <returns>0 when it was done, 1 when it could not be or was not understood.</returns>
    public static async Task<int> RunAsync(WebApplicationBuilder builder, string[] words)
    {
        builder.Configuration["Serilog:MinimumLevel:Default"] = "Fatal";
        builder.Configuration["Serilog:MinimumLevel:Override:Microsoft.AspNetCore"] = "Fatal";
        await using var app = builder.Build();
        return await Commands(app.Services, Console.Out, Console.Error).Parse(words)
            .InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
    }

    /// <summary>The commands, on an application that need not run.</summary>
    internal static RootCommand Commands(IServiceProvider services, TextWriter output, TextWriter errors)
    {
        var root =
            new RootCommand("Runs Tembri for others: studios, accounts, background work. Every act leaves a line in the trail.");

        async Task<int> DoAsync(Func<IServiceProvider, OperatorDesk, Task> act)
        {
            await using var scope = services.CreateAsyncScope();
            var desk = scope.ServiceProvider.GetRequiredService<OperatorDesk>();
            desk.Who = $"{Environment.UserName} on {Environment.MachineName}";
            try
            {
                await act(scope.ServiceProvider, desk);
                return 0;
            }
            catch (OperatorException e) { await errors.WriteLineAsync(e.Message); }
            catch (IOException e) { await errors.WriteLineAsync($"The file could not be read or written: {e.Message}"); }
            catch (UnauthorizedAccessException e)
            {
                await errors.WriteLineAsync($"The file could not be read or written: {e.Message}");
            }
            catch (Exception e) when (Faults.DatabaseFaults.IsOutage(e))
            {
                await errors.WriteLineAsync("The database does not answer. Start it, or set TEMBRI_DATABASE.");
            }
            return 1;
        }

        Command Add(string name, string says, params Symbol[] symbols)
        {
            var command = new Command(name, says);
            foreach (var symbol in symbols)
                if (symbol is Argument argument) command.Arguments.Add(argument);
                else command.Options.Add((Option)symbol);
            root.Subcommands.Add(command);
            return command;
        }
        // A form of its own for each use: a symbol belongs to one command.
        Argument<Guid> Studio() => new("studio") { Description = "Its identifier; studios lists them" };
        Argument<string> Named(string name, string says) => new(name) { Description = says };

        var asked = new Argument<string?>("find")
        {
            Description = "A part of a name, a teacher's address or an identifier", Arity = ArgumentArity.ZeroOrOne
        };
        Add("studios", "Lists studios: how much is in them, never what.", asked)
            .SetAction((line, leaving) => DoAsync(async (_, desk) =>
        {
            var found = await desk.FindAsync(line.GetValue(asked), Most, leaving);
            foreach (var s in found)
                await output.WriteLineAsync(string.Join('\t', s.Id, s.Name, string.Join(' ', s.Emails), $"{s.Songs} songs",
                    $"{s.Students} students", s.SeenAt is { } at ? $"seen {Day(at)}" : "not seen",
                    s.ClosedAt is { } closed ? $"closed {Day(closed)}" : s.IsDemo ? "demo" : "open"));
            if (found.Count == Most)
                await output.WriteLineAsync($"({Most} at most, the newest; name a part of what you look for)");
        }));

        var (openName, openEmail) = (Named("name", "What the studio is called"), Named("email", "The address of its teacher"));
        Add("open", "Opens a studio; prints the way to its first password.", openName, openEmail)
            .SetAction((line, leaving) => DoAsync(async (inside, desk) =>
        {
            var (teacher, way) = await desk.OpenAsync(line.GetValue(openName), line.GetValue(openEmail), leaving);
            await output.WriteLineAsync($"{teacher.StudioId}\nPassword, within two hours: {Root(inside)}{way}");
        }));

        var (closeStudio, closeWhy) = (Studio(), new Option<string?>("--why") { Description = "Kept in the trail" });
        Add("close", "Closes a studio: nobody gets in, nothing is lost.", closeStudio, closeWhy)
            .SetAction((line, leaving) =>
                DoAsync((_, desk) => desk.CloseAsync(line.GetValue(closeStudio), line.GetValue(closeWhy), leaving)));

        var reopenStudio = Studio();
        Add("reopen", "Opens a closed studio again.", reopenStudio)
            .SetAction((line, leaving) => DoAsync((_, desk) => desk.ReopenAsync(line.GetValue(reopenStudio), leaving)));

        var (exportStudio, exportFile) =
            (Studio(), new Argument<FileInfo>("file") { Description = "A new file, such as studio.zip" });
        Add("export", "Writes a studio as an archive.", exportStudio, exportFile)
            .SetAction((line, leaving) => DoAsync(async (_, desk) =>
        {
            var file = line.GetValue(exportFile)!;
            if (file.Exists) throw new OperatorException($"{file.Name} is there already; choose another name.");
            var (bytes, _) = await desk.ExportAsync(line.GetValue(exportStudio), leaving);
            // Whoever reads it reads what is kept of students: it is its owner's alone.
            var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
            if (!OperatingSystem.IsWindows()) options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
            await using var stream = new FileStream(file.FullName, options);
            await stream.WriteAsync(bytes, leaving);
            await output.WriteLineAsync($"{file.FullName}  {bytes.Length:N0} bytes");
        }));

        var (bringFile, bringName, bringEmail) = (new Argument<FileInfo>("file") { Description = "An archive" },
            Named("name", "What the new studio is called"), Named("email", "The address of its teacher"));
        Add("bring", "Opens a new studio of an archive, beside what is there.", bringFile, bringName, bringEmail)
            .SetAction((line, leaving) => DoAsync(async (inside, desk) =>
        {
            await using var stream = line.GetValue(bringFile)!.OpenRead();
            var (teacher, way, said) =
                await desk.BringAsync(line.GetValue(bringName), line.GetValue(bringEmail), stream, leaving);
            await output.WriteLineAsync(
                $"{teacher.StudioId}\n{string.Join('\n', said)}\nPassword, within two hours: {Root(inside)}{way}");
        }));

        var (eraseStudio, eraseName) =
            (Studio(), new Option<string>("--name") { Description = "The name of the studio, to be sure", Required = true });
        Add("erase", "Erases a studio with all it holds.", eraseStudio, eraseName)
            .SetAction((line, leaving) =>
                DoAsync((_, desk) => desk.EraseAsync(line.GetValue(eraseStudio), line.GetValue(eraseName), leaving)));

        var resetWho = Named("who", "A teacher's address, or the identifier of the studio");
        Add("reset-password", "Prints the way to a new password for a teacher.", resetWho)
            .SetAction((line, leaving) => DoAsync(async (inside, desk) =>
        {
            var (teacher, way) = await desk.ResetAsync(line.GetValue(resetWho), leaving);
            await output.WriteLineAsync($"{teacher.Email}\nPassword, within two hours: {Root(inside)}{way}");
        }));

        var regradeStudio = new Argument<Guid?>("studio")
        {
            Description = "Its identifier; all studios when none is named", Arity = ArgumentArity.ZeroOrOne
        };
        Add("re-grade", "Has a studio arranged and graded anew in the background.", regradeStudio)
            .SetAction((line, leaving) => DoAsync(async (_, desk) =>
            await output.WriteLineAsync($"{await desk.RegradeAsync(line.GetValue(regradeStudio), leaving)} in the queue")));

        foreach (var (name, may, says) in new[]
        {
            ("appoint", true, "Lets a teacher's account see the operator's page."),
            ("dismiss", false, "Takes the operator's page from an account.")
        })
        {
            var who = Named("who", "A teacher's address, or the identifier of the studio");
            Add(name, says, who)
                .SetAction((line, leaving) => DoAsync((_, desk) => desk.AppointAsync(line.GetValue(who), may, leaving)));
        }

        Add("load", "Shows how much is going on.").SetAction((_, leaving) => DoAsync(async (inside, _) =>
        {
            // This process is no instance that serves anybody.
            var figures = await inside.GetRequiredService<LoadLook>().ReadAsync(leaving, ofThisProcess: false);
            var width = figures.Max(f => f.Name.Length) + 2;
            foreach (var figure in figures)
                await output.WriteLineAsync(
                    $"{figure.Name.PadRight(width)}{figure.Value}{(figure.Note.Length > 0 ? $" ({figure.Note})" : "")}");
        }));

        var last = new Option<int>("--last") { Description = "How many lines", DefaultValueFactory = _ => 50 };
        Add("trail", "Shows who did what.", last).SetAction((line, leaving) => DoAsync(async (_, desk) =>
        {
            foreach (var act in await desk.TrailAsync(Math.Clamp(line.GetValue(last), 1, 10_000), leaving))
                await output.WriteLineAsync(string.Join('\t', act.At.ToString("u", CultureInfo.InvariantCulture), act.Who,
                    act.What, act.StudioId, act.StudioName, act.Note));
        }));
        return root;
    }

    private static string Day(DateTimeOffset at) => at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static string Root(IServiceProvider services) =>
        services.GetRequiredService<PublicAddress>().Outside ?? "(address of this Tembri)";
}
