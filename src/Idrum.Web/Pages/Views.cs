namespace Idrum.Web.Pages;

/// <summary>Layouts and partial views by their paths: looking a bare name up in all folders takes a tenth of a page's time.</summary>
public static class Views
{
    public const string Caution = "/Pages/Shared/_Caution.cshtml";

    public const string Decide = "/Pages/Shared/_Decide.cshtml";

    public const string JobLayout = "/Pages/Shared/_JobLayout.cshtml";

    public const string JobTable = "/Pages/Shared/_JobTable.cshtml";

    public const string Layout = "/Pages/Shared/_Layout.cshtml";

    public const string Ledger = "/Pages/Shared/_Ledger.cshtml";

    public const string Log = "/Pages/Shared/_Log.cshtml";

    public const string MachineFields = "/Pages/Shared/_MachineFields.cshtml";

    public const string Timers = "/Pages/Shared/_Timers.cshtml";

    public const string Ways = "/Pages/Shared/_Ways.cshtml";

    public const string Wrong = "/Pages/Shared/_Wrong.cshtml";
}
