using Idrum.Core.Basics;
using Idrum.Core.Gauging;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Web.Api;

public sealed record ReadingIn
{
    /// <summary>Position id; of a rim gap the clock, 12:00 to 10:30.</summary>
    public string? At { get; init; }

    /// <summary>How far the drum was turned, degrees clockwise.</summary>
    public double? DrumDeg { get; init; }

    /// <summary>The number the tool shows; left out where the circuit is open.</summary>
    public double? Value { get; init; }

    public string? Unit { get; init; }

    /// <summary>The meter showed an open circuit.</summary>
    public bool Open { get; init; }
}

public sealed record EarlierIn
{
    /// <summary>The quantity then, in its unit.</summary>
    public required double Value { get; init; }

    /// <summary>Hours of use since.</summary>
    public required double Hours { get; init; }

    /// <summary>Its standard uncertainty.</summary>
    public double? U { get; init; }
}

public sealed record GaugingQuestion
{
    public required string LayoutId { get; init; }

    public string? PartId { get; init; }

    public required IReadOnlyList<ReadingIn> Readings { get; init; }

    /// <summary>Instrument id of the same unit.</summary>
    public string? Instrument { get; init; }

    public EarlierIn? Earlier { get; init; }

    /// <summary>A limit instead of the layout's, in the quantity's unit.</summary>
    public double? Limit { get; init; }

    public int? MainsHz { get; init; }
}

public sealed record ValueAnswer(string Name, double Value, string Unit, double U);

public sealed record LimitAnswer(string Quantity, double New, double Worn, string Unit);

public sealed record SpeaksAnswer(string PartId, double Factor);

public sealed record GaugingAnswer(
    IReadOnlyList<ValueAnswer> Values,
    GaugeVerdict Verdict,
    double Probability,
    LimitAnswer Limit,
    double GuardBand,
    string Say,
    string? NextReading,
    double? HoursLeft,
    double? HoursLeftLow,
    double? HoursLeftHigh,
    IReadOnlyList<SpeaksAnswer> SpeaksFor,
    IReadOnlyList<int> Outliers
);

public sealed record ProtocolPart(string PartId, string Name, LimitAnswer? Limit);

public sealed record ProtocolAnswer(
    string Id,
    string Name,
    string Quantity,
    string Unit,
    double Minutes,
    string Needs,
    string Do,
    string Why,
    string Caution,
    Instrument Instrument,
    IReadOnlyList<GaugePosition> Positions,
    IReadOnlyList<ProtocolPart> Parts,
    string FindingId
);

/// <summary>Gauging without pages.</summary>
public static class GaugingCalls
{
    public static void MapGauging(this RouteGroupBuilder api)
    {
        api.MapGet("/gauging", Protocols)
            .Produces<IReadOnlyList<ProtocolAnswer>>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(404)
            .WithSummary("What can be measured on a machine, and how");
        api.MapPost("/gauging/{protocol}", GaugeAsync)
            .Accepts<GaugingQuestion>("application/json")
            .Produces<GaugingAnswer>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(404)
            .ProducesValidationProblem(422)
            .WithSummary("What readings say: value, verdict, what to read next, which parts it speaks for");
    }

    private static LimitAnswer? LimitOf(GaugeLimit? limit) =>
        limit is null ? null : new(limit.Quantity, limit.New, limit.Worn, limit.Unit);

    private static IResult Protocols(string? layoutId, ShopSnapshot shop)
    {
        if (string.IsNullOrEmpty(layoutId))
        {
            return ApiBody.Problem("layoutId", "Of which machine?", 400);
        }
        if (shop.FindLayout(layoutId) is not { } layout)
        {
            return ApiBody.Problem("layoutId", "The shop has no such layout.", 404);
        }
        var book = shop.Handbook.Gauging;
        return Results.Ok(
            book.Protocols.Where(p => p.On(layout))
                .Select(p =>
                {
                    var tool = book.InstrumentOf(p);
                    return new ProtocolAnswer(
                        p.Id,
                        p.Name,
                        p.Quantity,
                        tool.Unit,
                        p.Minutes,
                        p.Needs,
                        p.Do,
                        p.Why,
                        p.Caution,
                        tool,
                        p.Positions,
                        p.Whole
                            ? []
                            : [.. p.PartsOf(layout).Select(o => new ProtocolPart(o.Id, o.Name, LimitOf(p.LimitOf(o))))],
                        p.Finding
                    );
                })
                .ToList()
        );
    }

    private static async Task<IResult> GaugeAsync(string protocol, HttpRequest request, ShopSnapshot shop)
    {
        var book = shop.Handbook.Gauging;
        if (book.Find(protocol) is not { } how)
        {
            return ApiBody.Problem(
                "protocol",
                $"The protocols are: {string.Join(", ", book.Protocols.Select(p => p.Id))}.",
                404
            );
        }
        var (question, wrong) = await ApiBody.ReadAsync<GaugingQuestion>(request);
        if (question is null)
        {
            return wrong!;
        }
        if (shop.FindLayout(question.LayoutId) is not { } layout)
        {
            return ApiBody.Problem("layoutId", "The shop has no such layout.");
        }
        var errors = new FieldErrors();
        var part = question.PartId is { Length: > 0 } id ? layout.FindPart(id) : null;
        errors.If(
            question.PartId is { Length: > 0 } && part is null,
            "partId",
            $"This machine has no part '{FieldErrors.Short(question.PartId ?? "")}'."
        );
        for (var i = 0; i < question.Readings.Count; i++)
        {
            errors.If(
                question.Readings[i] is null || question.Readings[i] is { Value: null, Open: false },
                $"readings/{i}/value",
                "A number, as the tool shows it, or open."
            );
        }
        errors.If(
            question.Instrument is { Length: > 0 } tool && book.Instruments.All(i => i.Id != tool),
            "instrument",
            $"The instruments are: {string.Join(", ", book.Instruments.Select(i => i.Id))}."
        );
        errors.If(question.MainsHz is { } hz && hz is not (50 or 60), "mainsHz", "The mains have 50 or 60 Hz.");
        // The only part it can be needs no naming.
        part ??= !how.Whole && how.PartsOf(layout) is [var only] ? only : null;
        var limit = part is null && !how.Whole ? null : how.LimitOf(how.Whole ? null : part);
        errors.If(
            question.Limit is { } own
                && (
                    !double.IsFinite(own)
                    || limit is not null && Math.Sign(own - limit.New) != Math.Sign(limit.Worn - limit.New)
                ),
            "limit",
            "A limit lies on the worn side of new."
        );
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        var (result, faults) = Gauge.Of(
            how,
            layout,
            how.Whole ? null : part,
            [
                .. question.Readings.Select(r => new GaugeReading(
                    r.Value ?? 0,
                    r.Unit ?? "",
                    r.At ?? "",
                    r.DrumDeg,
                    r.Open
                )),
            ],
            new(book, shop.Layouts, question.MainsHz ?? shop.Terms.MainsHertz)
            {
                Instrument = question.Instrument ?? "",
                Earlier = question.Earlier is { } e ? new(e.Value, e.Hours, e.U) : null,
                Limit = question.Limit,
            }
        );
        return result is null
            ? ApiBody.Problem(faults)
            : Results.Ok(
                new GaugingAnswer(
                    [
                        .. result.Values.Select(v => new ValueAnswer(
                            v.Name,
                            v.Measured.Value,
                            v.Measured.Unit,
                            v.Measured.U
                        )),
                    ],
                    result.Verdict,
                    result.Probability,
                    LimitOf(result.Limit)!,
                    result.GuardBand,
                    result.Say,
                    result.NextReading.Length > 0 ? result.NextReading : null,
                    result.HoursLeft?.Hours,
                    result.HoursLeft?.Low,
                    result.HoursLeft is { } left && double.IsFinite(left.High) ? left.High : null,
                    [.. result.SpeaksFor.Select(s => new SpeaksAnswer(s.PartId, s.Factor))],
                    result.Outliers
                )
            );
    }
}
