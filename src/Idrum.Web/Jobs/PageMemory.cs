using System.Buffers.Binary;
using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Jobs;

/// <summary>Which drawing of a page this is: one version of a job at one address gives one page. The minute is part of it
/// because floor mode says how long the machine has been open.</summary>
public readonly record struct PageKey(Guid JobId, int Version, string Address, long Minute);

/// <summary>Pages of jobs as they were drawn, so that reload, Back and a second device cost no second drawing. What differs from
/// one sending to the next, ids of acts and the browser's token, stands in them as marks and is filled in when they are sent.
/// Can be thrown away at any time.</summary>
public sealed class PageMemory
{
    /// <summary>Marks are control characters, which no text of a job may hold and which the encoder never lets through.</summary>
    private const char IdMark = '\u0001';
    private const char TokenMark = '\u0002';
    private const int MostKept = 300;

    private readonly ConcurrentDictionary<PageKey, byte[]> pages = new();

    /// <summary>Stands for a fresh id.</summary>
    public static HtmlString Id { get; } = new(IdMark.ToString());

    /// <summary>Stands for the browser's token.</summary>
    public static HtmlString Token { get; } = new(TokenMark.ToString());

    public byte[]? Find(PageKey key) => pages.GetValueOrDefault(key);

    public void Keep(PageKey key, byte[] page)
    {
        if (pages.Count >= MostKept)
        {
            pages.Clear();
        }
        pages[key] = page;
    }

    /// <summary>The page with ids and token in place of the marks. Each id is twelve random bytes of this sending and a
    /// running number.</summary>
    public static byte[] Fill(ReadOnlySpan<byte> page, string token)
    {
        var ids = page.Count((byte)IdMark);
        var filled = new byte[page.Length + ids * 35 + page.Count((byte)TokenMark) * (token.Length - 1)];
        var seed = RandomNumberGenerator.GetBytes(16);
        var rest = filled.AsSpan();
        while (page.IndexOfAny((byte)IdMark, (byte)TokenMark) is >= 0 and var at)
        {
            page[..at].CopyTo(rest);
            rest = rest[at..];
            if (page[at] == IdMark)
            {
                BinaryPrimitives.WriteInt32BigEndian(seed.AsSpan(12), ids--);
                new Guid(seed).TryFormat(rest, out var length);
                rest = rest[length..];
            }
            else
            {
                rest = rest[Encoding.ASCII.GetBytes(token, rest)..];
            }
            page = page[(at + 1)..];
        }
        page.CopyTo(rest);
        return filled;
    }
}

/// <summary>Sends a page of a job: from memory where it has been drawn, else drawn now.</summary>
/// <param name="key">What it is kept under; null where it is not to be kept.</param>
public sealed class RememberedPage(PageKey? key) : PageResult
{
    public override async Task ExecuteResultAsync(ActionContext context)
    {
        var http = context.HttpContext;
        var memory = http.RequestServices.GetRequiredService<PageMemory>();
        var drawn = key is { } known ? memory.Find(known) : null;
        if (drawn is null)
        {
            drawn = await DrawAsync(context);
            if (key is { } wanted)
            {
                memory.Keep(wanted, drawn);
            }
        }
        var page = PageMemory.Fill(drawn, http.RequestServices.GetRequiredService<FormTokens>().For(http));
        http.Response.ContentType = "text/html; charset=utf-8";
        http.Response.ContentLength = page.Length;
        await http.Response.Body.WriteAsync(page);
    }

    private async Task<byte[]> DrawAsync(ActionContext context)
    {
        var response = context.HttpContext.Response;
        var body = response.Body;
        using var drawn = new MemoryStream(40_000);
        response.Body = drawn;
        try
        {
            await base.ExecuteResultAsync(context);
        }
        finally
        {
            response.Body = body;
        }
        return drawn.ToArray();
    }
}
