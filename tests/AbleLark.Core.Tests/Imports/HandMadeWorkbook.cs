using System.IO.Compression;
using AbleLark.Sheets;

namespace AbleLark.Core.Tests.Imports;

/// <summary>Workbooks with one sheet, written by hand as ECMA-376 has them.</summary>
internal static class HandMadeWorkbook
{
    private const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private const string Packages = "http://schemas.openxmlformats.org/package/2006";

    /// <param name="rows">Of the sheet's data.</param>
    /// <param name="columns">Its `cols`.</param>
    /// <param name="head">What the workbook's part begins with.</param>
    public static SheetReading Read(string rows, string columns = "", string head = "", SheetChoice? choice = null)
    {
        using MemoryStream bytes = new();
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach ((string name, string text) in Parts(rows, columns, head))
            {
                using StreamWriter writer = new(zip.CreateEntry(name).Open());
                writer.Write(text);
            }
        }
        bytes.Position = 0;
        return Workbooks.Read(bytes, choice ?? new());
    }

    private static IEnumerable<(string Name, string Text)> Parts(string rows, string columns, string head) =>
        [
            (
                "[Content_Types].xml",
                $"<Types xmlns=\"{Packages}/content-types\"><Default Extension=\"rels\" "
                    + "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>"
                    + "<Default Extension=\"xml\" ContentType=\"application/xml\"/></Types>"
            ),
            ("_rels/.rels", Relations(("r1", "officeDocument", "xl/workbook.xml"))),
            (
                "xl/workbook.xml",
                $"<workbook xmlns=\"{Main}\" xmlns:r=\"{Office}\">{head}"
                    + "<sheets><sheet name=\"Posts\" sheetId=\"1\" r:id=\"r1\"/></sheets></workbook>"
            ),
            ("xl/_rels/workbook.xml.rels", Relations(("r1", "worksheet", "worksheets/sheet1.xml"), ("r2", "styles", "styles.xml"))),
            (
                "xl/styles.xml",
                $"<styleSheet xmlns=\"{Main}\"><cellXfs count=\"2\"><xf numFmtId=\"0\"/>"
                    + "<xf numFmtId=\"14\" applyNumberFormat=\"1\"/></cellXfs></styleSheet>"
            ),
            ("xl/worksheets/sheet1.xml", $"<worksheet xmlns=\"{Main}\">{columns}<sheetData>{rows}</sheetData></worksheet>"),
        ];

    private static string Relations(params (string Id, string Kind, string Target)[] all) =>
        $"<Relationships xmlns=\"{Packages}/relationships\">"
        + string.Concat(all.Select(r => $"<Relationship Id=\"{r.Id}\" Type=\"{Office}/{r.Kind}\" Target=\"{r.Target}\"/>"))
        + "</Relationships>";
}
