using System.Text.Json;
using Idrum.Core.Basics;

namespace Idrum.Web.Api;

/// <summary>The API speaks the same JSON as Idrum's files.</summary>
public static class ApiJson
{
    public static void Configure(JsonSerializerOptions options)
    {
        var own = IdrumJson.Options;
        options.PropertyNamingPolicy = own.PropertyNamingPolicy;
        options.NumberHandling = own.NumberHandling;
        options.RespectNullableAnnotations = own.RespectNullableAnnotations;
        options.RespectRequiredConstructorParameters = own.RespectRequiredConstructorParameters;
        options.AllowOutOfOrderMetadataProperties = own.AllowOutOfOrderMetadataProperties;
        options.AllowDuplicateProperties = own.AllowDuplicateProperties;
        options.MaxDepth = own.MaxDepth;
        foreach (var converter in own.Converters)
        {
            options.Converters.Add(converter);
        }
    }
}
