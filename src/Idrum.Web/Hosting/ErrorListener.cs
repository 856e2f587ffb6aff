namespace Idrum.Web.Hosting;

/// <summary>Hands every error that is logged to who wants to know of it.</summary>
/// <param name="onError">Told of it in words, with the exception.</param>
internal sealed class ErrorListener(Action<string> onError) : ILoggerProvider, ILogger
{
    /// <inheritdoc />
    public ILogger CreateLogger(string categoryName) => this;

    /// <inheritdoc />
    public IDisposable? BeginScope<TState>(TState state)
        where TState : notnull => null;

    /// <inheritdoc />
    public bool IsEnabled(LogLevel logLevel) => logLevel >= LogLevel.Warning;

    /// <inheritdoc />
    public void Log<TState>(
        LogLevel logLevel,
        EventId eventId,
        TState state,
        Exception? exception,
        Func<TState, Exception?, string> formatter
    )
    {
        if (logLevel >= LogLevel.Error || exception is not null)
        {
            onError($"{formatter(state, exception)} {exception}");
        }
    }

    /// <inheritdoc />
    public void Dispose() { }
}
