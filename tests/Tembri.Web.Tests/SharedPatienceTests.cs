using System.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;

namespace Tembri.Web.Tests;

public sealed class SharedPatienceTests(TembriHost host) : IClassFixture<TembriHost>
{
    private static TimeSpan Seconds(double seconds) => TimeSpan.FromSeconds(seconds);

    [Fact]
    public async Task Commands_of_one_request_share_what_they_wait_and_those_of_another_do_not()
    {
        Assert.Equal(Seconds(2), SharedPatience.Spend(Seconds(1), Seconds(2)));   // no request
        async Task<TimeSpan> Request(params double[] waits)
        {
            SharedPatience.Begin();
            var waited = TimeSpan.Zero;
            foreach (var wait in waits)
            {
                await Task.Yield();
                waited = SharedPatience.Spend(Seconds(wait), Seconds(wait));
            }
            return waited;
        }
        var both = await Task.WhenAll(Request(2, 1.5, 1), Request(0.5));
        Assert.Equal([Seconds(4.5), Seconds(0.5)], both);
        Assert.Equal(Seconds(3), SharedPatience.Spend(Seconds(1), Seconds(3)));
    }

    [Theory]
    [InlineData(4, true, 2)]     // an installation that promises an answer
    [InlineData(4, false, 3)]    // work in the background
    [InlineData(30, true, 3)]    // one machine
    public async Task Commands_that_are_slow_one_after_the_other_have_no_more_time_than_their_request(int timeout,
        bool isRequest, int answered)
    {
        var options = new DbContextOptionsBuilder<TembriDbContext>();
        options.UseTembriDatabase($"{host.ConnectionString};Command Timeout={timeout}");
        await using var context = new TembriDbContext(options.Options, new FixedStudio(null));
        if (isRequest) SharedPatience.Begin();
        var (watch, done) = (Stopwatch.StartNew(), 0);
        var fault = await Record.ExceptionAsync(async () =>
        {
            for (; done < 3; done++) await context.Database.ExecuteSqlRawAsync("select pg_sleep(2.9)");
        });
        Assert.Equal(answered, done);
        Assert.Equal(answered == 3, fault is null);
        if (fault is not null) Assert.InRange(watch.Elapsed, TimeSpan.Zero, SharedPatience.OfRequest + Seconds(1));
    }
}
