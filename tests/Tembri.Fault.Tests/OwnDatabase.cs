using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

[assembly: AssemblyFixture(typeof(Tembri.Fault.Tests.OwnDatabase))]

namespace Tembri.Fault.Tests;

/// <summary>A database server that may be killed: its own cluster on its own port.</summary>
public sealed class OwnDatabase : IAsyncLifetime
{
    private readonly string _data = Path.Combine(Folder, ".data", $"faults-{Environment.ProcessId}");
    private readonly int _port = FreePort();

    /// <summary>The repository.</summary>
    public static string Folder { get; } = Find(AppContext.BaseDirectory);

    /// <summary>How often a loop is run: a few times in ./test, many times by scripts/faults.</summary>
    public static int Rounds(int few) =>
        int.TryParse(Environment.GetEnvironmentVariable("TEMBRI_FAULT_ROUNDS"), out var rounds) ? rounds : few;

    /// <summary>True when scripts/faults asks for what takes long.</summary>
    public static bool IsLong => Environment.GetEnvironmentVariable("TEMBRI_FAULT_ROUNDS") is not null;

    public async ValueTask InitializeAsync()
    {
        await StartAsync();
    }

    private RunningTembri? _tembri;

    /// <summary>One running application for all tests that do not kill it.</summary>
    public async Task<RunningTembri> TembriAsync() => _tembri ??= await new RunningTembri(await NewDatabaseAsync()).ReadyAsync();

    public ValueTask DisposeAsync()
    {
        _tembri?.Dispose();
        var folder = Pg("folder").Trim();
        Pg("stop");
        foreach (var gone in new[] { folder, _data + ".keys" })
            if (Directory.Exists(gone)) Directory.Delete(gone, recursive: true);
        return ValueTask.CompletedTask;
    }

    /// <summary>What the application connects with, to a new empty database of the owner.</summary>
    /// <param name="folder">Where its files lie; null for beside the others.</param>
    public async Task<string> NewDatabaseAsync(string? folder = null)
    {
        var name = $"faults_{Guid.NewGuid():N}";
        if (folder is not null) await OwnerAsync($"create tablespace {name} owner tembri location '{folder}'");
        await OwnerAsync($"create database {name} owner tembri{(folder is null ? "" : $" tablespace {name}")}");
        return Pg("connection").Trim().Replace("Database=tembri;", $"Database={name};", StringComparison.Ordinal);
    }

    /// <summary>Drops a database and the space of its own it lay in.</summary>
    public async Task DropAsync(string connection)
    {
        var name = new Npgsql.NpgsqlConnectionStringBuilder(connection).Database;
        await OwnerAsync($"drop database {name} with (force)");
        await OwnerAsync($"drop tablespace if exists {name}");
    }

    /// <summary>What a question to a database answers, asked by the server's owner, who sees every studio.</summary>
    public async Task<IReadOnlyList<string>> AskAsync(string databaseName, string sql)
    {
        await using var connection =
            new Npgsql.NpgsqlConnection($"{Pg("owner-connection").Trim()};Database={databaseName};Pooling=false");
        await connection.OpenAsync();
        await using var command = new Npgsql.NpgsqlCommand(sql, connection);
        await using var reader = await command.ExecuteReaderAsync();
        var found = new List<string>();
        while (await reader.ReadAsync()) found.Add(reader.GetString(0));
        return found;
    }

    private async Task OwnerAsync(string sql)
    {
        await using var connection =
            new Npgsql.NpgsqlConnection($"{Pg("owner-connection").Trim()};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var command = new Npgsql.NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    /// <summary>Starts the server; after it was killed this waits until what it left behind has gone.</summary>
    public async Task StartAsync()
    {
        for (var tries = 1; ; tries++)
        {
            try { Pg("start"); return; }
            catch (InvalidOperationException) when (tries < 20) { await Task.Delay(300); }
        }
    }

    public void Stop() => Pg("stop");

    /// <summary>Ends the server at once, without a chance to tidy up. Only the process this suite started.</summary>
    public void Kill()
    {
        var pid = File.ReadLines(Path.Combine(Pg("folder").Trim(), "postmaster.pid")).First();
        Run("/bin/kill", "-9", pid);
    }

    private string Pg(string command) => Run(Path.Combine(Folder, "scripts", "pg"), command);

    /// <summary>Runs one of the scripts on a database of this server; false when it ends with a fault.</summary>
    public bool RunScript(string script, string connection, string file)
    {
        try
        {
            RunWith(new() { ["TEMBRI_PG_DATABASE"] = new Npgsql.NpgsqlConnectionStringBuilder(connection).Database! },
                Path.Combine(Folder, "scripts", script), file);
            return true;
        }
        catch (InvalidOperationException) { return false; }
    }

    private string Run(string program, params string[] words) => RunWith([], program, words);

    private string RunWith(Dictionary<string, string> environment, string program, params string[] words)
    {
        var start = new ProcessStartInfo(program, words)
        {
            RedirectStandardOutput = true, RedirectStandardError = true, UseShellExecute = false
        };
        (start.Environment["TEMBRI_PG_FOLDER"], start.Environment["TEMBRI_PG_PORT"]) = (_data, _port.ToString());
        foreach (var (name, value) in environment) start.Environment[name] = value;
        using var process = Process.Start(start)!;
        // What the server itself writes goes on after this program; only its own end is waited for.
        var output = words[0] == "start" ? "" : process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0 ? output : throw new InvalidOperationException($"{program} {words[0]} failed");
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static string Find(string from) =>
        File.Exists(Path.Combine(from, "Tembri.slnx")) ? from : Find(Path.GetDirectoryName(from)!);
}
