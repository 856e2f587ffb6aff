using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests;

/// <summary>Core knows the job, and neither web nor database nor files nor clock; and each of its rooms uses only rooms
/// above it.</summary>
public class ArchitectureTests
{
    /// <summary>The rooms in the order of docs/architecture.md.</summary>
    private static readonly string[] Rooms =
    [
        "Basics",
        "Machines",
        "Drive",
        "Teardown",
        "Identify",
        "Diagnosis",
        "Listening",
        "Gauging",
        "Fitting",
        "Ledger",
        "Content",
        "Supply",
        "Money",
        "Shop",
        "Jobs",
        "Week",
        "Logbook",
        "Practice",
    ];

    private static readonly Architecture Core = new ArchLoader()
        .LoadAssemblies(typeof(Idrum.Core.Machines.Layout).Assembly)
        .Build();

    private static IEnumerable<IType> Own =>
        Core.Types.Where(t => t.Namespace.FullName.StartsWith("Idrum.Core.", StringComparison.Ordinal));

    private static string RoomOf(IType type) =>
        type.Namespace?.FullName.Split('.') is ["Idrum", "Core", var room, ..] ? room : "";

    /// <summary>What a room may not name: another type's room that stands below it in the order, or that is in no
    /// order.</summary>
    private static List<string> Against(string[] order) =>
        [
            .. from type in Own
            from target in type.Dependencies.Select(d => d.Target).Distinct()
            where target.Namespace?.FullName.StartsWith("Idrum.Core.", StringComparison.Ordinal) == true
            let from_ = Array.IndexOf(order, RoomOf(type))
            let to = Array.IndexOf(order, RoomOf(target))
            where from_ < 0 || to < 0 || to > from_
            select $"{type.FullName} ({RoomOf(type)}) names {target.FullName} ({RoomOf(target)})",
        ];

    [Fact]
    public void Each_room_uses_only_rooms_above_it_and_there_is_no_circle() => Assert.Empty(Against(Rooms));

    [Fact]
    public void The_check_of_rooms_sees_an_arrow_against_the_order()
    {
        // Jobs put first, everything it uses is against the order; Shop left out, its types are in no room.
        Assert.Contains(Against(["Jobs", .. Rooms.Where(r => r != "Jobs")]), a =>
            a.Contains("JobOpened", StringComparison.Ordinal)
        );
        Assert.Contains(Against([.. Rooms.Where(r => r != "Shop")]), a =>
            a.Contains("ShopSnapshot", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Every_room_has_its_sentence_in_the_order_of_the_document_and_no_type_stands_outside()
    {
        var document = File.ReadAllLines(Path.Combine(AppContext.BaseDirectory, "docs/architecture.md"));
        var rows = document.Where(l => l.StartsWith("| ", StringComparison.Ordinal)).Select(l => l.Split('|')).ToList();
        var written = rows.Where(r => r[2].Trim().Length > 20).Select(r => r[1].Trim()).ToList();
        var met = Own.Select(RoomOf).Distinct().ToHashSet();
        Assert.Equal(Rooms.Where(met.Contains), written.Where(Rooms.Contains).Take(met.Count));
        Assert.Subset(Rooms.ToHashSet(), met);
        var jobs = rows.First(r => r[1].Trim() == "Jobs")[2];
        Assert.All(
            Own.Where(t => RoomOf(t) == "Jobs").Select(t => t.Namespace.FullName["Idrum.Core.".Length..]).Distinct(),
            folder => Assert.Contains($"`{folder}`", jobs, StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Microsoft.Data.Sqlite")]
    [InlineData("System.Net.Http")]
    [InlineData("Idrum.Web")]
    [InlineData("Idrum.Storage")]
    public void Core_depends_on_no_interface_code(string space)
    {
        var named = Own.SelectMany(t => t.Dependencies.Select(d => d.Target.FullName)).ToHashSet();
        Assert.Contains(named, n => n.StartsWith("System.Text.Json.", StringComparison.Ordinal));
        Assert.DoesNotContain(named, n => n.StartsWith(space + ".", StringComparison.Ordinal));
    }

    [Fact]
    public void Core_touches_neither_files_nor_a_clock_of_its_own()
    {
        // A clock handed in is welcome; the machine's own is not.
        var forbidden = new[]
        {
            "System.IO.File",
            "System.IO.Directory",
            "System.Console",
            "System.Diagnostics.Stopwatch",
        };
        var users = Own.SelectMany(t =>
            t.Dependencies.Where(d => forbidden.Contains(d.Target.FullName))
                .Select(d => $"{t.FullName} uses {d.Target.FullName}")
        );
        Assert.True(!users.Any(), string.Join(' ', users));
        Assert.Contains(
            Own.SelectMany(t => t.Dependencies.OfType<ArchUnitNET.Domain.Dependencies.MethodCallDependency>()),
            d => d.TargetMember.FullName.Contains("System.DateTimeOffset::", StringComparison.Ordinal)
        );
        var clocks = Own.SelectMany(t =>
            t.Dependencies.OfType<ArchUnitNET.Domain.Dependencies.MethodCallDependency>()
                .Where(d =>
                    d.TargetMember.FullName.Contains("get_UtcNow", StringComparison.Ordinal)
                    || d.TargetMember.FullName.Contains("System.DateTimeOffset::get_Now(", StringComparison.Ordinal)
                    || d.TargetMember.FullName.Contains("System.DateTime::get_Now(", StringComparison.Ordinal)
                    || d.TargetMember.FullName.Contains("TimeProvider::get_System", StringComparison.Ordinal)
                    || d.TargetMember.FullName.Contains("::CancelAfter(", StringComparison.Ordinal)
                )
                .Select(d => $"{t.FullName} asks {d.TargetMember.FullName}")
        );
        Assert.True(!clocks.Any(), string.Join(' ', clocks));
    }

    [Fact]
    public void Core_refers_to_no_web_or_database_assembly()
    {
        var names = typeof(Idrum.Core.Machines.Layout).Assembly.GetReferencedAssemblies().Select(a => a.Name!).ToList();
        Assert.Contains(names, n => n == "JsonSchema.Net");
        Assert.DoesNotContain(names, n =>
            n.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal)
            || n.Contains("Sqlite", StringComparison.OrdinalIgnoreCase)
            || n.StartsWith("Idrum.", StringComparison.Ordinal)
        );
    }
}
