using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What an event is checked against. Errors name the event's field in camel case.</summary>
/// <param name="history">The job so far.</param>
/// <param name="shop">What the shop knows.</param>
/// <param name="now">The shop's clock; null where an old log is read, whose acts were made under the guards of their
/// day.</param>
internal sealed class JobCheck(JobHistory history, ShopSnapshot shop, DateTimeOffset? now)
{
    private MachineKnowledge? machine;

    internal FieldErrors Errors { get; } = new();

    internal JobHistory History => history;

    internal JobState State => history.State;

    internal ShopSnapshot Shop => shop;

    /// <summary>The job's machine.</summary>
    internal MachineKnowledge Machine => machine ??= shop.MachineOf(State);

    internal DateTimeOffset? Now => now;

    /// <summary>An error that keeps a person from harm now, and is no reason to refuse an old log.</summary>
    internal void Guard(Func<DateTimeOffset, bool> wrong, string field, string message)
    {
        if (now is { } clock && wrong(clock))
        {
            Errors.Add(field, message);
        }
    }

    /// <summary>What holds for an act that carries a file.</summary>
    internal void Attachment(ICarriesAttachment act, string field, int held)
    {
        Errors.If(
            !Log.Attachment.IsName(act.CarriedName),
            field,
            $"The name of a {act.Carries.Name} has 64 hexadecimal digits."
        );
        Errors.If(
            act.CarriedSha256 is { } hash && hash != act.CarriedName,
            "sha256",
            $"A {act.Carries.Name} is named by the hash of its bytes."
        );
        Errors.If(
            held >= act.Carries.MostOfJob,
            field,
            $"A job holds {act.Carries.MostOfJob} files of this kind ({act.Carries.Name}) at most."
        );
    }

    internal void OptionalOperation(string id) =>
        Errors.If(
            id.Length > 0 && Machine.Layout.FindOperation(id) is null,
            "operationId",
            $"There is no step '{FieldErrors.Short(id)}' on this machine."
        );

    /// <summary>The operation, or null with an error.</summary>
    internal Operation? Operation(string id)
    {
        var operation = Machine.Layout.FindOperation(id);
        Errors.If(operation is null, "operationId", $"There is no step '{FieldErrors.Short(id)}' on this machine.");
        return operation;
    }

    /// <summary>The part, or null with an error.</summary>
    internal Part? Part(string id)
    {
        var part = Machine.Layout.FindPart(id);
        Errors.If(part is null, "partId", $"There is no part '{FieldErrors.Short(id)}' on this machine.");
        return part;
    }
}
