using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>Glue, grease and ties: what a job takes of them, and how many are kept so that jobs find enough.</summary>
public class SmallUseTests
{
    private static SmallArticle Small(string id) => TestShop.Shop.Supplier.Small.Single(s => s.Id == id);

    [Fact]
    public void A_felt_takes_of_the_tube_what_its_area_wants_and_a_motor_a_share_of_the_ties()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var handbook = TestShop.Shop.For(layout).Handbook;
            double Of(string id, params string[] kinds) =>
                SmallUse.Of(Small(id), layout, [.. layout.PartsOfKind(kinds)], handbook);
            // Round the drum, as wide as the layout says, a coat on both faces: by the tube's own figures.
            foreach (var felt in layout.Parts.Where(p => handbook.For(p, layout) is { Glues: true }))
            {
                var way = handbook.For(felt, layout)!;
                var glue = handbook.AdhesiveOf(way.School(way.DefaultSchool))!;
                var wide = layout.GlueWidthMm > 0 ? layout.GlueWidthMm : 40;
                var area = Math.PI * layout.Drive.Drum.DiameterMm * wide / 10_000;
                var tube = TestShop.Shop.Supplier.Small.Single(s => s.Adhesive == glue.Id);
                Assert.Equal(
                    area * glue.MillilitresPerDm2 / glue.TubeMillilitres,
                    SmallUse.Of(tube, layout, [felt], handbook),
                    6
                );
                Assert.All(TestShop.Shop.Supplier.Small.Where(s => s.Adhesive.Length > 0 && s != tube), other =>
                    Assert.Equal(0, SmallUse.Of(other, layout, [felt], handbook))
                );
            }
            Assert.Equal(0, Of("TI", "belt"));
            Assert.Equal(0, Of("GL-CC", "motor"));
            Assert.Equal(layout.PartsOfKind([PartKinds.Motor]).Any() ? 1.0 / 15 : 0, Of("TI", "motor"), 6);
        }
    }

    [Theory]
    [InlineData(24, 0.4)]
    [InlineData(24, 0.07)]
    [InlineData(6, 0.5)]
    [InlineData(60, 1.2)]
    public void So_many_are_kept_that_jobs_find_enough(int jobsAYear, double share)
    {
        const double years = 2;
        const double service = 0.9;
        const double lead = 4;
        var (point, level) = SmallUse.Reorders(
            [.. Enumerable.Repeat(share, jobsAYear * (int)years)],
            years,
            lead,
            service
        );
        Assert.InRange(point, 0, level - 1);
        // Year after year: where so many unopened ones are left or fewer, up to the level is ordered and comes after the lead time.
        var random = new Random(7);
        var (here, rest, served, all, day) = (level, 1.0, 0, 0, 0.0);
        var coming = new Queue<double>();
        while (day < 365.25 * 400)
        {
            day += -Math.Log(1 - random.NextDouble()) * 365.25 / jobsAYear;
            while (coming.Count > 0 && coming.Peek() <= day)
            {
                coming.Dequeue();
                here++;
            }
            all++;
            if (here + rest >= share - 1e-9)
            {
                served++;
                var need = share;
                while (need > rest + 1e-9)
                {
                    need -= rest;
                    here--;
                    rest = 1;
                }
                rest -= need;
            }
            while (here + coming.Count <= point || coming.Count == 0 && here < level && here <= point)
            {
                coming.Enqueue(day + lead);
                if (here + coming.Count >= level)
                {
                    break;
                }
            }
        }
        Assert.True((double)served / all >= service - 0.03, $"{served} of {all} with {level}");
    }

    [Fact]
    public void Nothing_is_kept_of_what_no_job_took()
    {
        Assert.Equal((0, 0), SmallUse.Reorders([], 2, 4, 0.9));
    }
}
