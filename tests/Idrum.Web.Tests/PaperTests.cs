using System.Net;
using System.Net.Http.Headers;
using System.Text.RegularExpressions;
using AngleSharp.Html.Parser;
using SkiaSharp;
using UglyToad.PdfPig;

namespace Idrum.Web.Tests;

/// <summary>Report and estimate as PDF, read by another reader: all that the page says to the customer stands on it, and
/// nothing of its controls; the shop's sign at the head.</summary>
public sealed partial class PaperTests(TestHost host) : IClassFixture<TestHost>
{
    [GeneratedRegex(@"[\p{L}\p{N}]+")]
    private static partial Regex Word();

    private async Task<PdfDocument> PdfAsync(string path)
    {
        using var answer = await host.Client.GetAsync(new Uri(path, UriKind.Relative));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Equal("application/pdf", answer.Content.Headers.ContentType!.MediaType);
        Assert.EndsWith(
            ".pdf",
            answer.Content.Headers.ContentDisposition!.FileName!.Trim('"'),
            StringComparison.Ordinal
        );
        return PdfDocument.Open(await answer.Content.ReadAsByteArrayAsync());
    }

    /// <summary>Letters and digits alone: where a line is broken and how words are spaced is the paper's own.</summary>
    private static string Letters(string text) => string.Concat(Word().Matches(text).Select(m => m.Value));

    private static string Written(PdfDocument pdf) => string.Concat(pdf.GetPages().Select(p => Letters(p.Text)));

    [Theory]
    [InlineData("J-0138")]
    [InlineData("J-0141")]
    [InlineData("J-0143")]
    [InlineData("J-0150")]
    public async Task A_report_says_all_that_its_page_says_and_nothing_of_its_controls(string number)
    {
        using var pdf = await PdfAsync($"/jobs/{number}/report.pdf");
        var written = Written(pdf);
        var page = new HtmlParser().ParseDocument(
            await host.Client.GetStringAsync(new Uri($"/jobs/{number}/report", UriKind.Relative))
        );
        var main = page.QuerySelector("main")!;
        foreach (var control in main.QuerySelectorAll(".no-print, form, svg").ToList())
        {
            Assert.True(
                control.TextContent.Trim().Length < 12 || !written.Contains(Letters(control.TextContent)),
                control.TextContent
            );
            control.Remove();
        }
        var blocks = main.QuerySelectorAll("h1, h2, p, li, td, th, figcaption").Select(b => Letters(b.TextContent));
        // A cell that goes over to the next page has the foot of the first between its halves.
        var missing = blocks
            .Where(b => b.Length > 0 && !written.Contains(b, StringComparison.Ordinal))
            .Where(b => !(written.Contains(b[..(b.Length / 3)]) && written.Contains(b[^(b.Length / 3)..])))
            .ToList();
        Assert.Empty(missing);
        Assert.Equal(
            Enumerable.Range(1, pdf.NumberOfPages).Select(n => $"page{n}of{pdf.NumberOfPages}"),
            pdf.GetPages().Select(p => Regex.Match(Letters(p.Text), @"page\dof\d").Value)
        );
        // What stands on a page stands within it.
        Assert.All(pdf.GetPages(), p =>
            Assert.All(p.Letters, l => Assert.InRange(l.BoundingBox.Right, 50, p.Width - 50))
        );
    }

    [Fact]
    public async Task A_pdf_is_there_for_whom_the_page_is_and_says_when_there_is_none()
    {
        using var none = await host.Client.GetAsync(new Uri("/jobs/J-9999/report.pdf", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
        using var other = await host.Client.GetAsync(new Uri("/jobs/J-0138/strip.pdf", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, other.StatusCode);
        using var head = await host.Client.SendAsync(new(HttpMethod.Head, "/jobs/J-0138/report.pdf"));
        Assert.Equal("application/pdf", head.Content.Headers.ContentType!.MediaType);
        Assert.Contains("/jobs/J-0138/report.pdf", await host.Client.GetStringAsync("/jobs/J-0138/report"));
    }

    [Fact]
    public async Task The_shops_sign_stands_on_page_and_sheet_until_it_is_taken_away()
    {
        Assert.Contains("choose a picture", await SendAsync([], HttpStatusCode.UnprocessableEntity));
        Assert.Contains("not a picture", await SendAsync([1, 2, 3, 4], HttpStatusCode.UnprocessableEntity));
        Assert.Contains("4 MB is the most", await SendAsync(new byte[20 << 20], HttpStatusCode.RequestEntityTooLarge));
        using var before = await PdfAsync("/jobs/J-0138/report.pdf");
        using var picture = new SKBitmap(300, 120);
        using (var canvas = new SKCanvas(picture))
        {
            using var red = new SKPaint { Color = SKColors.DarkRed };
            canvas.Clear(SKColors.Transparent);
            canvas.DrawCircle(60, 60, 50, red);
        }
        using var png = picture.Encode(SKEncodedImageFormat.Png, 100);
        Assert.Contains("Kept:", await SendAsync(png.ToArray(), HttpStatusCode.OK));
        Assert.Contains("/paper/logo.jpg", await host.Client.GetStringAsync("/jobs/J-0138/report"));
        using var after = await PdfAsync("/jobs/J-0138/report.pdf");
        Assert.Equal(before.GetPage(1).GetImages().Count() + 1, after.GetPage(1).GetImages().Count());
        // What is seen through is white on paper, not black.
        using var kept = SKBitmap.Decode(await host.Client.GetByteArrayAsync("/paper/logo.jpg"));
        Assert.True(kept.GetPixel(250, 20).Red > 250);
        Assert.Contains("gone", await SendAsync([], HttpStatusCode.OK, drop: true));
        Assert.DoesNotContain("/paper/logo.jpg", await host.Client.GetStringAsync("/jobs/J-0138/report"));
    }

    private async Task<string> SendAsync(byte[] picture, HttpStatusCode expected, bool drop = false)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await host.TokenAsync("/shop")), "__RequestVerificationToken" },
        };
        if (drop)
        {
            form.Add(new StringContent("yes"), "drop");
        }
        else if (picture.Length > 0)
        {
            var file = new ByteArrayContent(picture);
            file.Headers.ContentType = new MediaTypeHeaderValue("image/png");
            form.Add(file, "logo", "sign.png");
        }
        using var answer = await host.Client.PostAsync(new Uri("/shop/logo", UriKind.Relative), form);
        Assert.Equal(expected, answer.StatusCode);
        return WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
    }
}
