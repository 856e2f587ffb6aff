using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using ArchUnitNET.xUnit;
using static ArchUnitNET.Fluent.ArchRuleDefinition;

namespace Idrum.Core.Tests;

/// <summary>Core knows the job, and neither web nor database nor files nor clock.</summary>
public class ArchitectureTests
{
    private static readonly Architecture Core = new ArchLoader().LoadAssemblyIncludingDependencies(typeof(Idrum.Core.Machines.Layout).Assembly).Build();

    [Theory]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Microsoft.Data.Sqlite")]
    [InlineData("System.Net.Http")]
    [InlineData("Idrum.Web")]
    [InlineData("Idrum.Storage")]
    public void Core_depends_on_no_interface_code(string space) =>
        Types().That().ResideInAssembly(typeof(Idrum.Core.Machines.Layout).Assembly)
            .Should().NotDependOnAny(Types().That().ResideInNamespaceMatching("^" + space.Replace(".", "\\.") + ".*")).WithoutRequiringPositiveResults().Check(Core);

    [Fact]
    public void Core_touches_neither_files_nor_the_clock()
    {
        var forbidden = new[] { "System.IO.File", "System.IO.Directory", "System.TimeProvider", "System.Console" };
        var users = Core.Types.Where(t => t.Assembly.Name.StartsWith("Idrum.Core,", StringComparison.Ordinal))
            .SelectMany(t => t.Dependencies.Where(d => forbidden.Contains(d.Target.FullName)).Select(d => $"{t.FullName} uses {d.Target.FullName}"));
        Assert.Empty(users);
    }

    [Fact]
    public void Core_refers_to_no_web_or_database_assembly()
    {
        var names = typeof(Idrum.Core.Machines.Layout).Assembly.GetReferencedAssemblies().Select(a => a.Name!).ToList();
        Assert.Contains(names, n => n == "NJsonSchema");
        Assert.DoesNotContain(names, n => n.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal) || n.Contains("Sqlite", StringComparison.OrdinalIgnoreCase) || n.StartsWith("Idrum.", StringComparison.Ordinal));
    }
}
