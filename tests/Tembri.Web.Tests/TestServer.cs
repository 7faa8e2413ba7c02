using System.Net;
using System.Net.Sockets;

namespace Tembri.Web.Tests;

/// <summary>The database server tests use when ./test did not start one: that of a running ./start.</summary>
public static class TestServer
{
    public static string Folder { get; } = Find(AppContext.BaseDirectory);

    public static string OfStart()
    {
        var key = Path.Combine(Folder, ".data", "pg.keys", "owner");
        return File.Exists(key)
            ? $"Host=127.0.0.1;Port=54329;Username=postgres;Password={File.ReadAllText(key).Trim()}"
            : throw new InvalidOperationException("Run ./test, or ./start in another terminal: tests need a database server.");
    }

    /// <summary>A port nobody listens on just now.</summary>
    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static string Find(string from) =>
        File.Exists(Path.Combine(from, "Tembri.slnx")) ? from : Find(Path.GetDirectoryName(from)!);
}
