using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;

namespace AbleLark.Server.Vocabulary;

/// <param name="Words">Its name on screens, in the plural.</param>
/// <param name="IsEngagement">True: it counts as an engagement.</param>
public sealed record FigureWords(FigureKind Key, string Words, bool IsEngagement);

/// <param name="Key">Its name in content.</param>
/// <param name="Name">Its name on screens.</param>
/// <param name="Most">Longest value that is taken in, in UTF-16 units; null: any.</param>
/// <param name="IsEverywhere">False: only networks that list it under `fields` take it.</param>
public sealed record FieldWords(string Key, string Name, FieldKind Kind, int? Most, bool IsEverywhere);

/// <param name="Words">Its name on screens.</param>
/// <param name="How">What it is, in a few words.</param>
public sealed record MeasureWords(Measure Key, string Words, string How, bool IsRate);

/// <param name="Fields">Content fields, in the order in which they are shown.</param>
/// <param name="Figures">Kinds of figures, in the order in which they are shown.</param>
/// <param name="Measures">What deliveries can be compared by.</param>
public sealed record VocabularyView(
    IReadOnlyList<FieldWords> Fields,
    IReadOnlyList<FigureWords> Figures,
    IReadOnlyList<MeasureWords> Measures
);

/// <summary>What is declared once, for whoever draws it: the page and scripts ask for it instead of holding lists of their own.</summary>
public static class VocabularyEndpoints
{
    private static readonly VocabularyView All = new(
        [.. ContentFields.All.Select(f => new FieldWords(f.Key, f.Name, f.Kind, f.Most, f.IsEverywhere))],
        [.. FigureKind.All.Select(k => new FigureWords(k, k.Words, k.IsEngagement))],
        [.. MeasureRule.All.Select(m => new MeasureWords(m.Measure, m.Words, m.How, m.IsRate))]
    );

    public static void MapVocabulary(this IEndpointRouteBuilder api) => api.MapGet("/vocabulary", () => All).RequireAuthorization();
}
