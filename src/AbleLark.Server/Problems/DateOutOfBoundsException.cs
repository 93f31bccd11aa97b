using System.Text.Json;

namespace AbleLark.Server.Problems;

/// <summary>A date in a request that nobody can plan with; <see cref="Exception.Message"/> is for whoever sent it.</summary>
public sealed class DateOutOfBoundsException(string words) : JsonException(words);
