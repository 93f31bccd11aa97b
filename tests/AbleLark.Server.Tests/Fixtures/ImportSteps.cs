using System.Text;
using System.Text.Json;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>The steps of an import, by the API.</summary>
public static class ImportSteps
{
    public static (string, string, byte[]) Sheet(string csv, string name = "posts.csv") => ("sheet", name, Encoding.UTF8.GetBytes(csv));

    extension(ApiClient who)
    {
        public Task<Guid> BeginImportAsync(string csv, params (string, string?, byte[])[] media) =>
            who.BeginImportAsync([Sheet(csv), .. media]);

        public async Task<Guid> BeginImportAsync(params (string, string?, byte[])[] files) =>
            (await who.UploadAsync("imports", HttpMethod.Post, files)).Id();

        /// <summary>The import when all about it is found.</summary>
        public async Task<JsonElement> CompleteAsync(Guid import)
        {
            while (true)
            {
                JsonElement view = await who.GetAsync($"imports/{import}");
                if (view.GetProperty("progress").GetProperty("isComplete").GetBoolean())
                    return view;
                await Task.Delay(30);
            }
        }

        public async Task<JsonElement[]> ImportRowsAsync(Guid import, string query = "")
        {
            await who.CompleteAsync(import);
            return (await who.GetAsync($"imports/{import}/rows?{query}")).List("rows");
        }

        /// <summary>Puts it into the bank; returns the import with what came of it.</summary>
        public async Task<JsonElement> CommitImportAsync(Guid import)
        {
            JsonElement view = await who.CompleteAsync(import);
            await who.PostAsync($"imports/{import}/commit", new { revision = view.Whole("revision") });
            return await who.EndOfCommitAsync(import);
        }

        /// <summary>The import once its committing has come to an end, whichever.</summary>
        public async Task<JsonElement> EndOfCommitAsync(Guid import)
        {
            while (true)
            {
                JsonElement view = await who.GetAsync($"imports/{import}");
                if (view.GetProperty("commit").ValueKind == JsonValueKind.Null)
                    return view;
                await Task.Delay(30);
            }
        }

        /// <summary>All steps at once, for a sheet that needs nobody.</summary>
        public async Task<JsonElement> ImportAsync(string csv, params (string, string?, byte[])[] media)
        {
            JsonElement view = await who.CommitImportAsync(await who.BeginImportAsync(csv, media));
            Assert.Equal(JsonValueKind.Null, view.GetProperty("trouble").ValueKind);
            return view.GetProperty("line");
        }

        public Task<JsonElement> EditRowsAsync(Guid import, object which, object change) =>
            who.PostAsync($"imports/{import}/rows", Change(which, change));
    }

    /// <summary>A change of rows; what isn't named in it stays.</summary>
    public static object Change(object which, object change)
    {
        Dictionary<string, object?> all = new()
        {
            ["which"] = which,
            ["values"] = null,
            ["leftOut"] = null,
            ["joined"] = null,
            ["ifThere"] = null,
            ["takeOffered"] = false,
            ["fit"] = null,
            ["reset"] = false,
        };
        foreach (System.Reflection.PropertyInfo property in change.GetType().GetProperties())
            all[property.Name] = property.GetValue(change);
        return all;
    }
}
