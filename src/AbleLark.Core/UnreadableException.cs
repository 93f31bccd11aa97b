using System.Text.Json;

namespace AbleLark.Core;

/// <summary>JSON that is well formed and yet not what it should be; the message is for whoever wrote it.</summary>
public sealed class UnreadableException(string words) : JsonException(words);
