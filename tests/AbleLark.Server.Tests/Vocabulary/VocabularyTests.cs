using System.Text.Json;
using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Vocabulary;

/// <summary>Whatever is declared is in the vocabulary, and in the API's document, without a list of its own there.</summary>
public sealed class VocabularyTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    [Fact]
    public async Task Fields_and_figures_are_those_that_are_declared_in_their_order()
    {
        JsonElement all = JsonSerializer.Deserialize<JsonElement>(await _installation.Ada.Http.GetStringAsync("/api/vocabulary"));
        Assert.Equal(ContentFields.All.Select(f => (f.Key, f.Name)), all.List("fields").Select(f => (f.Text("key"), f.Text("name"))));
        Assert.Equal(FigureKind.All.Select(k => (k.Key, k.Words)), all.List("figures").Select(k => (k.Text("key"), k.Text("words"))));
    }
}
