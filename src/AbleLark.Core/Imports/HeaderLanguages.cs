using AbleLark.Core.Content;

namespace AbleLark.Core.Imports;

/// <summary>
/// Words that people head columns with in other languages than English: German, French, Spanish, Italian, Dutch and Portuguese (common
/// practice, no source), in their plain form and without marks above or below letters.
/// </summary>
internal static class HeaderLanguages
{
    public static IReadOnlyDictionary<RowField, string[]> OfRows { get; } =
        new Dictionary<RowField, string>
        {
            [RowField.Title] = "titel|uberschrift|titre|titulo|titolo|kop",
            [RowField.Category] = "kategorie|rubrik|thema|categorie|rubrique|theme|categoria|rubrica|tema",
            [RowField.FurtherCategories] =
                "weitere kategorien|autres categories|otras categorias|altre categorie|andere categorieen|outras categorias",
            [RowField.Networks] =
                "netzwerk|netzwerke|plattform|reseau|reseaux|reseau social|plateforme|red|redes|red social|redes sociales|plataforma|rete"
                + "|reti|piattaforma|netwerk|netwerken|rede|rede social|redes sociais",
            [RowField.Channels] =
                "kanal|kanale|konto|konten|canal|canaux|compte|comptes|canales|cuenta|cuentas|canale|canali|kanaal"
                + "|kanalen|canais|conta|contas",
            [RowField.Weekday] =
                "wochentag|jour de la semaine|dia de la semana|giorno della settimana|giorno|weekdag|dag van de week|dia da semana",
            [RowField.Date] =
                "datum|tag|veroffentlichungsdatum|erscheinungsdatum|date de publication|jour|fecha|fecha de publicacion|dia|data"
                + "|data di pubblicazione|publicatiedatum|dag|data de publicacao",
            [RowField.Time] = "uhrzeit|zeit|heure|hora|ora|orario|tijd|tijdstip|horario",
            [RowField.Zone] = "zeitzone|fuseau horaire|zona horaria|fuso orario|tijdzone|fuso horario",
            [RowField.From] = "ab|a partir du|desde|a partir de|dal|vanaf",
            [RowField.To] = "bis|jusqu au|hasta|fino al|tot|ate",
            [RowField.Notes] =
                "notizen|notiz|bemerkung|bemerkungen|remarque|remarques|notas|nota|observaciones|osservazioni|notities"
                + "|opmerking|opmerkingen"
                + "|observacoes",
        }.ToDictionary(f => f.Key, f => f.Value.Split('|'));

    public static IReadOnlyDictionary<string, string[]> OfContent { get; } =
        new Dictionary<string, string>
        {
            [ContentFields.Text.Key] =
                "beitrag|beitragstext|nachricht|beschreibung|texte|legende|publication|texto|mensaje|publicacion"
                + "|descripcion|testo|messaggio"
                + "|didascalia|descrizione|tekst|bericht|bijschrift|omschrijving|mensagem|legenda|publicacao|descricao",
            [ContentFields.Link.Key] = "lien|enlace|collegamento|adresse|webadresse",
            [ContentFields.Pictures.Key] =
                "bild|bilder|foto|fotos|imagen|imagenes|immagine|immagini|afbeelding|afbeeldingen|imagem|imagens|datei|dateien|fichier",
            [ContentFields.Video.Key] = "videos|filmato",
            [ContentFields.FirstComment.Key] =
                "erster kommentar|premier commentaire|primer comentario|primo commento|eerste reactie|primeiro comentario",
        }.ToDictionary(f => f.Key, f => f.Value.Split('|'));
}
