using AbleLark.Core;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace AbleLark.Data;

internal sealed class IdConverter<T>() : ValueConverter<Id<T>, Guid>(id => id.Value, value => new(value));
