using System.Collections.Concurrent;

namespace Idrum.Web.Hosting;

/// <summary>An error as it may be shown to others: where and what kind, never what was in it.</summary>
/// <param name="At">When.</param>
/// <param name="Number">Its number in the log; empty where nobody was answered.</param>
/// <param name="Where">Method and route, without what stood in it; or the part of Idrum that logged it.</param>
/// <param name="Kind">Type of the exception.</param>
/// <param name="Steps">Where in the code, innermost first.</param>
public sealed record ErrorTrace(
    DateTimeOffset At,
    string Number,
    string Where,
    string Kind,
    IReadOnlyList<string> Steps
);

/// <summary>The last errors since the start, without messages: these may hold what a customer said.</summary>
public sealed class LastErrors(TimeProvider clock) : ILoggerProvider
{
    private const int Kept = 50;
    private const int MostSteps = 12;
    private readonly ConcurrentQueue<ErrorTrace> errors = new();

    /// <summary>The newest last.</summary>
    public IReadOnlyList<ErrorTrace> All => [.. errors];

    /// <summary>Notes an error that somebody was told the number of.</summary>
    public void Note(string number, HttpContext context, Exception error) =>
        Note(
            number,
            $"{context.Request.Method} {(context.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>()?.Endpoint as RouteEndpoint)?.RoutePattern.RawText ?? "?"}",
            error
        );

    /// <inheritdoc />
    public ILogger CreateLogger(string categoryName) => new Listener(this, categoryName);

    /// <inheritdoc />
    public void Dispose() { }

    private void Note(string number, string where, Exception error)
    {
        errors.Enqueue(
            new(
                clock.GetUtcNow(),
                number,
                where,
                error.GetType().FullName ?? error.GetType().Name,
                [
                    .. new System.Diagnostics.StackTrace(error, true)
                        .GetFrames()
                        .Select(f =>
                            $"{f.GetMethod()?.DeclaringType?.FullName}.{f.GetMethod()?.Name}:{f.GetFileLineNumber()}"
                        )
                        .Where(f => f.StartsWith("Idrum.", StringComparison.Ordinal))
                        .Take(MostSteps),
                ]
            )
        );
        while (errors.Count > Kept)
        {
            errors.TryDequeue(out _);
        }
    }

    private sealed class Listener(LastErrors all, string category) : ILogger
    {
        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        // What a request met is noted with its number where it is answered.
        public bool IsEnabled(LogLevel logLevel) =>
            logLevel >= LogLevel.Error && !category.EndsWith("ExceptionHandlerMiddleware", StringComparison.Ordinal);

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        )
        {
            if (IsEnabled(logLevel) && exception is not null)
            {
                all.Note("", category, exception);
            }
        }
    }
}
