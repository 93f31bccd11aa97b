using AbleLark.Core.Figures;

namespace AbleLark.Server.Vocabulary;

/// <param name="Words">Its name on screens, in the plural.</param>
/// <param name="IsEngagement">True: it counts as an engagement.</param>
public sealed record FigureWords(FigureKind Key, string Words, bool IsEngagement);

/// <param name="Figures">Kinds of figures, in the order in which they are shown.</param>
public sealed record VocabularyView(IReadOnlyList<FigureWords> Figures);

/// <summary>What is declared once, for whoever draws it: the page and scripts ask for it instead of holding lists of their own.</summary>
public static class VocabularyEndpoints
{
    private static readonly VocabularyView All = new([.. FigureKind.All.Select(k => new FigureWords(k, k.Words, k.IsEngagement))]);

    public static void MapVocabulary(this IEndpointRouteBuilder api) => api.MapGet("/vocabulary", () => All).RequireAuthorization();
}
