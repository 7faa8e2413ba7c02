using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace Tembri.Web.Tests;

/// <summary>The first start of several instances on a database that is empty.</summary>
public sealed class FirstStartTests(TembriHost host)
{
    [Fact]
    public async Task Instances_that_start_together_share_one_key_from_the_beginning()
    {
        var database = $"tembri_test_{Guid.NewGuid():N}";
        var connection = new NpgsqlConnectionStringBuilder(host.ConnectionString) { Database = database }.ConnectionString;
        await host.AskAsync($"create database {database}");
        try
        {
            var instances = Enumerable.Range(0, 3).Select(_ => host.WithWebHostBuilder(builder =>
                builder.UseSetting("ConnectionStrings:Tembri", connection).UseSetting("Demo", "false"))).ToList();
            try
            {
                var keys = await Task.WhenAll(instances.Select(i =>
                    Task.Run(() => i.Services.GetRequiredService<IDataProtectionProvider>().CreateProtector("cookie"))));
                await using var asked = new NpgsqlConnection(connection);
                await asked.OpenAsync(TestContext.Current.CancellationToken);
                await using var command = new NpgsqlCommand("select count(*) from data_protection_keys", asked);
                Assert.Equal(1L, await command.ExecuteScalarAsync(TestContext.Current.CancellationToken));
                Assert.All(keys, mine => Assert.All(keys, other => Assert.Equal("a session", other.Unprotect(mine.Protect("a session")))));
            }
            finally { foreach (var instance in instances) await instance.DisposeAsync(); }
        }
        finally
        {
            NpgsqlConnection.ClearAllPools();
            await host.AskAsync($"drop database {database} with (force)");
        }
    }
}
