using System.Text;
using Idrum.Core.Jobs;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>The seven stations on one belt: dark where the job has been, the drum mark at the station in work.</summary>
public static class BeltLine
{
    private const string Drum = "<circle class=\"drum\" cx=\"23\" cy=\"26\" r=\"20\"/><circle class=\"baffle\" cx=\"23\" cy=\"12\" r=\"3.4\"/><circle class=\"baffle\" cx=\"11\" cy=\"33\" r=\"3.4\"/><circle class=\"baffle\" cx=\"35\" cy=\"33\" r=\"3.4\"/>";
    private const string Pulley = "<circle class=\"pulley\" cx=\"23\" cy=\"26\" r=\"8\"/>";
    private static readonly (Station Station, string Name)[] Stations = [.. Enum.GetValues<Station>().Select(s => (s, s.ToString()))];

    /// <param name="state">The job.</param>
    /// <param name="shown">The station whose page is shown, which need not be the one in work.</param>
    public static HtmlString Of(JobState state, Station shown)
    {
        var job = "/jobs/" + Uri.EscapeDataString(state.Number) + "/";
        var html = new StringBuilder("<nav aria-label=\"Stations of the job\"><ol class=\"beltline\">", 3000);
        foreach (var (station, name) in Stations)
        {
            var been = station < state.Station || state.Closed is not null;
            var at = !been && station == state.Station;
            html.Append("<li class=\"").Append(been ? "been" : at ? "at" : "").Append(station == shown ? " shown" : "")
                .Append("\"><a href=\"").Append(job).Append(name.ToLowerInvariant()).Append('"').Append(station == shown ? " aria-current=\"step\"" : "")
                .Append("><svg viewBox=\"0 0 46 52\" aria-hidden=\"true\">").Append(at ? Drum : Pulley).Append("</svg><span>").Append(name).Append("</span></a></li>");
        }
        return new(html.Append("</ol></nav>").ToString());
    }
}
