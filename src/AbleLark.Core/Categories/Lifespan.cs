namespace AbleLark.Core.Categories;

/// <summary>How often a post may go out.</summary>
public enum Lifespan
{
    /// <summary>May come round again.</summary>
    Evergreen,

    /// <summary>Goes out once on each channel.</summary>
    Once,

    /// <summary>Goes out on one occasion altogether, on all its channels at once.</summary>
    OnceAltogether,
}
