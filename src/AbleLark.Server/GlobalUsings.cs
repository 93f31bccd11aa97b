global using Answers = Microsoft.AspNetCore.Http.Results;
