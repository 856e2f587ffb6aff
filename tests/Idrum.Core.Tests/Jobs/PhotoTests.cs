using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>A photo settles what its step asks to be photographed; a ring and a word on it say which wire.</summary>
public class PhotoTests : JobStory
{
    private static readonly string Name = new('a', 64);

    [Fact]
    public void The_photo_of_a_step_ticks_what_the_step_asks_for()
    {
        OpenFor("roller-left");
        var note = Machine.Layout.Operations.SelectMany(o => o.Notes).First(n => n.Kind == NoteKind.Photo);
        Assert.Contains(Errors(new PhotoAdded(Name, "", "") { NoteId = "nothing" }), e => e.Pointer == "noteId");
        Do(new PhotoAdded(Name, "", "") { NoteId = note.Id });
        Assert.Equal("photo", State.Ticked[note.Id]);
        Do(new Undone(History.Log[^1].Id));
        Assert.DoesNotContain(note.Id, State.Ticked.Keys);
        // One beside it ticks nothing.
        Do(new PhotoAdded(Name, "", ""));
        Assert.Empty(State.Ticked);
    }

    [Theory]
    [InlineData(-1, 50, "x")]
    [InlineData(100.1, 50, "x")]
    [InlineData(50, double.NaN, "y")]
    [InlineData(50, 101, "y")]
    public void A_mark_outside_the_photo_is_refused(double x, double y, string field)
    {
        OpenFor("roller-left");
        Do(new PhotoAdded(Name, "", ""));
        Assert.Contains(Errors(new PhotoMarked(Name, x, y, "blue")), e => e.Pointer == field);
    }

    [Fact]
    public void A_mark_has_a_word_and_a_photo_of_the_job()
    {
        OpenFor("roller-left");
        Assert.Contains(Errors(new PhotoMarked(Name, 1, 1, "blue")), e => e.Pointer == "photoId");
        Do(new PhotoAdded(Name, "", ""));
        Assert.Contains(Errors(new PhotoMarked(Name, 1, 1, " ")), e => e.Pointer == "word");
        Do(new PhotoMarked(Name, 0, 100, "blue: to the switch"));
        Assert.Equal("blue: to the switch", Assert.Single(State.Marks).Word);
        Assert.DoesNotContain("blue", ((PhotoMarked)History.Log[^1]).WithoutCustomer().ToString());
    }
}
