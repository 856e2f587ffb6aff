using System.Buffers;
using System.Text;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.WebUtilities;

namespace Idrum.Web.Hosting;

/// <summary>Writers with room for a whole page, so that it leaves in one piece; the built-in one sends every 16 thousand signs.</summary>
internal sealed class WholePageWriter : IHttpResponseStreamWriterFactory
{
    private const int Signs = 64 * 1024;

    public TextWriter CreateWriter(Stream stream, Encoding encoding) =>
        new HttpResponseStreamWriter(stream, encoding, Signs, ArrayPool<byte>.Shared, ArrayPool<char>.Shared);
}
