using CsCheck;

namespace Tembri.Core.Tests;

/// <summary>A store of results stays within its bytes, forgets what was not asked for, and never changes an answer.</summary>
public sealed class BoundedResultsTests
{
    private sealed record Result(int Of, int Size);

    [Fact]
    public void Bytes_stay_within_the_bound_whatever_comes_and_every_answer_is_right()
    {
        Gen.Select(Gen.Int[0, 300], Gen.Int[1, 5_000]).Array[200, 800].Sample(asked =>
        {
            const long most = 300_000;
            var store = new BoundedResults<int, Result>(most, 1_000, r => r.Size);
            foreach (var (key, size) in asked)
            {
                Assert.Equal(key, store.GetOrAdd(key, k => new Result(k, size)).Of);
                // The fewest that are always kept may be large.
                Assert.InRange(store.Bytes, 1, most + 17 * 5_200);
            }
            store.Forget();
            Assert.Equal(0, store.Bytes);
            Assert.Null(store.Find(asked[^1].Item1));
        }, iter: 40);
    }

    [Fact]
    public void What_is_asked_for_again_and_again_stays_while_the_rest_goes()
    {
        var store = new BoundedResults<int, Result>(200_000, 1_000, r => r.Size);
        var made = 0;
        for (var i = 0; i < 5_000; i++)
        {
            store.GetOrAdd(-1, k => { made++; return new Result(k, 1_000); });
            store.GetOrAdd(i, k => new Result(k, 1_000));
        }
        Assert.Equal(1, made);
        Assert.Null(store.Find(0));
        Assert.InRange(store.Bytes, 170_000, 200_000);
    }

    [Fact]
    public void Threads_that_ask_for_the_same_get_the_same_and_the_bytes_add_up()
    {
        var store = new BoundedResults<int, Result>(10_000_000, 1_000, r => r.Size);
        var found = new Result[8, 500];
        Parallel.For(0, 8, t => { for (var i = 0; i < 500; i++) found[t, i] = store.GetOrAdd(i, k => new Result(k, 1_000)); });
        for (var i = 0; i < 500; i++)
            Assert.Single(Enumerable.Range(0, 8).Select(t => found[t, i]).Distinct(ReferenceEqualityComparer.Instance));
        Assert.Equal(500 * (1_000 + 160), store.Bytes);
    }

    /// <summary>What went is not counted any more, whoever made it go: a full store lets a sixteenth go and not more.</summary>
    [Fact]
    public void After_much_that_came_and_went_on_several_threads_a_full_store_is_still_nearly_full()
    {
        var store = new BoundedResults<int, Result>(200_000, 1_000, r => r.Size);
        for (var round = 0; round < 3; round++)
        {
            Parallel.For(0, 8, t =>
            {
                for (var i = 0; i < 4_000; i++) store.GetOrAdd((31 * t + 7 * i) % 3_000, k => new Result(k, 1_000));
            });
            store.Forget();
            Assert.Equal(0, store.Bytes);
        }
        for (var i = 0; i < 5_000; i++) store.GetOrAdd(i, k => new Result(k, 1_000));
        Assert.InRange(store.Bytes, 170_000, 200_000);
    }
}
