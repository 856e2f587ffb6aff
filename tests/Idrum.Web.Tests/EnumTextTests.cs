using Idrum.Core.Tests;
using Idrum.Web.Hosting;

namespace Idrum.Web.Tests;

/// <summary>Values of sets reach pages, drawings and answers by their words.</summary>
public class EnumTextTests
{
    [Fact]
    public void No_value_goes_into_a_page_a_drawing_or_an_answer_by_itself()
    {
        var found = EnumTexts.Of(typeof(IdrumHost).Assembly);
        Assert.True(found.Count == 0, string.Join("\n", found));
    }
}
