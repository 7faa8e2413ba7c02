using Tembri.Data;

namespace Tembri.Web.Tests;

public sealed class SharedPatienceTests
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
}
