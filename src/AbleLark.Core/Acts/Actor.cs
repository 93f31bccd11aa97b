namespace AbleLark.Core.Acts;

/// <summary>Who does something: a person, or a script that acts for one. Where nobody is named, the product did it by itself.</summary>
/// <param name="PersonId">The person, or the one who let the script in: it never may more than they.</param>
/// <param name="TokenId">The script's token; null: it is the person themselves.</param>
public sealed record Actor(Guid PersonId, Guid? TokenId = null)
{
    /// <summary>As it is kept.</summary>
    public static Actor? Of(Guid? person, Guid? token) => person is { } id ? new(id, token) : null;

    /// <summary>True for a person and their own scripts.</summary>
    public bool IsFor(Actor? other) => other?.PersonId == PersonId;
}

/// <summary>What somebody made, wrote down or approved.</summary>
public abstract class HasActor
{
    /// <summary>Null: the product itself, or somebody who isn't known any more.</summary>
    public Actor? By
    {
        get => Actor.Of(PersonId, TokenId);
        init => (PersonId, TokenId) = (value?.PersonId, value?.TokenId);
    }

    /// <summary>The parts of <see cref="By"/>, as they are kept and asked for.</summary>
    public Guid? PersonId { get; private set; }

    public Guid? TokenId { get; private set; }
}
