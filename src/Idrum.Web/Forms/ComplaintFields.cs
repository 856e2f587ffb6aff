using Idrum.Core.Diagnosis;

namespace Idrum.Web.Forms;

/// <summary>What a customer complains of, to be ticked and told.</summary>
/// <param name="Kind">Kind of the act whose form it stands in.</param>
/// <param name="Form">What was typed before.</param>
/// <param name="Complaints">What can be told of the machine.</param>
/// <param name="Ticked">Ids ticked beforehand.</param>
/// <param name="Words">What was told before.</param>
public sealed record ComplaintFields(
    string Kind,
    FormState Form,
    IEnumerable<Finding> Complaints,
    IReadOnlyCollection<string> Ticked,
    string Words
);
