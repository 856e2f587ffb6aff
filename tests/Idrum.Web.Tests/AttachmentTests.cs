using System.Net;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Attachments;
using SkiaSharp;

namespace Idrum.Web.Tests;

/// <summary>Files that acts carry: what is read, what is refused, and the way in beside the pages.</summary>
public sealed class AttachmentTests(TestHost host) : IClassFixture<TestHost>
{
    private static byte[] Jpeg(int w = 64, int h = 32)
    {
        using var bitmap = new SKBitmap(w, h);
        bitmap.Erase(SKColors.Teal);
        using var canvas = new SKCanvas(bitmap);
        using var red = new SKPaint { Color = SKColors.Red };
        // A mark in one corner tells how the picture is turned.
        canvas.DrawRect(0, 0, w / 4, h / 4, red);
        using var data = bitmap.Encode(SKEncodedImageFormat.Jpeg, 95);
        return data.ToArray();
    }

    /// <summary>With a word on how it is to be turned, as cameras write it (Exif orientation 1 to 8).</summary>
    private static byte[] Turned(byte[] jpeg, byte orientation)
    {
        byte[] exif =
        [
            .. "Exif\0\0"u8,
            .. "MM\0*"u8,
            0,
            0,
            0,
            8,
            0,
            1,
            0x01,
            0x12,
            0,
            3,
            0,
            0,
            0,
            1,
            0,
            orientation,
            0,
            0,
            0,
            0,
            0,
            0,
        ];
        return [0xff, 0xd8, 0xff, 0xe1, 0, (byte)(exif.Length + 2), .. exif, .. jpeg[2..]];
    }

    /// <summary>Where the stored mark, at row 0 and column 0, is seen, by the words of Exif: (right, below).</summary>
    [Theory]
    [InlineData(1, false, false)]
    [InlineData(2, true, false)]
    [InlineData(3, true, true)]
    [InlineData(4, false, true)]
    [InlineData(5, false, false)]
    [InlineData(6, true, false)]
    [InlineData(7, true, true)]
    [InlineData(8, false, true)]
    public void A_picture_is_stored_upright_whichever_way_the_phone_was_held(byte how, bool right, bool below)
    {
        var (stored, error) = PhotoFile.Read(Turned(Jpeg(), how));
        Assert.Empty(error);
        using var picture = SKBitmap.Decode(stored);
        Assert.Equal(how < 5 ? (64, 32) : (32, 64), (picture.Width, picture.Height));
        var seen = picture.GetPixel(right ? picture.Width - 3 : 2, below ? picture.Height - 3 : 2);
        Assert.True(seen.Red > 180 && seen.Green < 80, seen.ToString());
        Assert.DoesNotContain("Exif", System.Text.Encoding.Latin1.GetString(stored), StringComparison.Ordinal);
    }

    [Fact]
    public void A_picture_that_is_cut_off_is_named_and_a_plain_one_stays_byte_by_byte()
    {
        var whole = Jpeg(900, 700);
        foreach (var share in new[] { 0.02, 0.3, 0.9 })
        {
            var (stored, error) = PhotoFile.Read(whole[..(int)(whole.Length * share)]);
            Assert.Empty(stored);
            Assert.NotEmpty(error);
        }
        Assert.Contains("cut off", PhotoFile.Read(whole[..(whole.Length / 2)]).Error, StringComparison.Ordinal);
        Assert.Equal(whole, PhotoFile.Read(whole).Jpeg);
        // Words behind the picture are no picture.
        var more = PhotoFile.Read([.. whole, .. "words"u8]).Jpeg;
        Assert.NotEqual(whole.Length + 5, more.Length);
        Assert.DoesNotContain("words", System.Text.Encoding.Latin1.GetString(more), StringComparison.Ordinal);
    }

    private async Task<HttpResponseMessage> SendAsync(JobEvent act, params byte[][] files)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(JsonSerializer.Serialize(act, IdrumJson.Options)), "act" },
        };
        foreach (var file in files)
        {
            form.Add(new ByteArrayContent(file), "file", "x.jpg");
        }
        var job = host.Store.Find("J-0149")!.JobId;
        return await host.Client.PostAsync($"/api/v1/jobs/{job}/events", form);
    }

    [Fact]
    public async Task A_program_sends_an_act_with_its_file_in_one_call()
    {
        var act = new PhotoAdded("", "", "rear") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        Assert.Equal(HttpStatusCode.Created, (await SendAsync(act, Jpeg())).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await SendAsync(act, Jpeg())).StatusCode);
        var photo = Assert.Single(host.Store.Find("J-0149")!.State.Photos);
        Assert.Equal(photo.PhotoId, photo.Sha256);
        var served = await host.Client.GetAsync($"/jobs/J-0149/files/{photo.PhotoId}");
        Assert.Equal("image/jpeg", served.Content.Headers.ContentType!.MediaType);
        Assert.Equal(photo.Sha256, Attachment.HashOf(await served.Content.ReadAsByteArrayAsync()));
        // What does not fit together is said, and nothing of it is kept.
        var version = host.Store.Find("J-0149")!.Version;
        var other = act with { Id = Guid.NewGuid() };
        foreach (
            var wrong in new[]
            {
                await SendAsync(other),
                await SendAsync(other, "no picture"u8.ToArray()),
                await SendAsync(other, Jpeg(), Jpeg()),
                await SendAsync(other with { OperationId = "ghost" }, Jpeg(40, 40)),
                await SendAsync(new NoteAdded("", "n") { Id = Guid.NewGuid(), At = act.At }, Jpeg()),
            }
        )
        {
            Assert.Contains(wrong.StatusCode, new[] { HttpStatusCode.UnprocessableEntity, HttpStatusCode.BadRequest });
        }
        Assert.Equal(version, host.Store.Find("J-0149")!.Version);
        Assert.Null(host.Store.FindAttachment(Attachment.HashOf(Jpeg(40, 40))));
    }
}
