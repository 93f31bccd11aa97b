using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Tests.Workspaces;

public sealed class RightsTests
{
    [Fact]
    public void Each_role_may_what_the_table_says()
    {
        Assert.Equal(Rights.All, Rights.Of(Role.Owner));
        Assert.Equal(Rights.All.Where(r => r != Right.People), Rights.Of(Role.Planner));
        Assert.Equal([Right.View, Right.Write, Right.Results], Rights.Of(Role.Writer));
        Assert.Equal([Right.View, Right.Approve, Right.Results], Rights.Of(Role.Client));
    }

    [Fact]
    public void Every_right_has_words_of_its_own()
    {
        Assert.Equal(Rights.All.Count, Rights.All.Select(Rights.Words).Distinct().Count());
    }
}
