using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>"This is not the machine I thought": which it is, and what carries over.</summary>
public sealed class MachineModel(JobServices services, ShopSnapshot shop) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>All layouts but the one it was thought to be.</summary>
    public IEnumerable<Layout> Others => shop.ByUse.Where(l => l.Id != State.Machine.LayoutId);

    /// <summary>The layout it is; null while that is still to be said.</summary>
    public Layout? Other { get; private set; }

    /// <summary>The machine card with the other layout: facts that it lets vary are kept.</summary>
    public MachineCard Card { get; private set; } = new();

    /// <summary>What carries over.</summary>
    public CarryOver Carried { get; private set; } = new();

    /// <summary>Names of the steps that carry over.</summary>
    public IEnumerable<string> Steps => Carried.Operations.Select(o => Other!.FindOperation(o)?.Name ?? o);

    protected override Task PrepareAsync()
    {
        var wanted =
            Request.Query["to"].ToString() is { Length: > 0 } to ? to
            : Request.HasFormContentType ? Request.Form["machine.layoutId"].ToString()
            : "";
        Other = Others.FirstOrDefault(l => l.Id == wanted);
        if (Other is not null)
        {
            Card = State.Machine with
            {
                LayoutId = Other.Id,
                Facts =
                [
                    .. State.Machine.Facts.Where(f =>
                        Other.Facts.Any(x =>
                            x.Varies
                            && x.Id == f.Split('=')[0]
                            && (f.Split('=') is not [_, var v] || x.Values is not { Count: > 0 } met || met.Contains(v))
                        )
                    ),
                ],
                Energy =
                    State.Machine.HeatedBy == HeatSource.Gas && !Other.Facts.Any(f => f is { Id: "gas", Varies: true })
                        ? "electric"
                        : State.Machine.HeatedBy,
            };
            Carried = CarryOver.Of(State, shop, Card);
        }
        return base.PrepareAsync();
    }
}
