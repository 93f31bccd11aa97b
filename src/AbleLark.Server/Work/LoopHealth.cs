using System.Collections.Concurrent;
using System.Diagnostics.Metrics;
using AbleLark.Core.Deliveries;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.Work;

/// <summary>How a loop of this process is doing.</summary>
/// <param name="LastPassAt">Machine time at which it last ended a pass, or gave a sign of life within one; null before the first.</param>
/// <param name="LastPassSeconds">How long the last pass took.</param>
/// <param name="Failures">Passes that failed since the server started.</param>
/// <param name="LastFailure">What was said by the latest of those, unless a pass went well since.</param>
public sealed record LoopState(WorkKind Work, Instant? LastPassAt, double LastPassSeconds, int Failures, string? LastFailure);

/// <summary>Notes what this process's loops do: for readiness, and as metrics of the meter <see cref="MeterName"/>.</summary>
public sealed class LoopHealth : IDisposable
{
    public const string MeterName = "AbleLark";

    private readonly IClock _machine;
    private readonly ConcurrentDictionary<WorkKind, LoopState> _loops = new();
    private readonly ConcurrentDictionary<WorkKind, int> _aside = new(Enum.GetValues<WorkKind>().Select(w => KeyValuePair.Create(w, 0)));
    private readonly Meter _meter = new(MeterName);
    private readonly Histogram<double> _passSeconds;
    private readonly Counter<long> _failures;
    private readonly Counter<long> _ended;
    private readonly Histogram<double> _lateSeconds;

    public LoopHealth(IClock machine)
    {
        _machine = machine;
        _passSeconds = _meter.CreateHistogram<double>("lark.pass.duration", "s", "How long a pass of background work took");
        _failures = _meter.CreateCounter<long>(
            "lark.work.failures",
            description: "Passes, workspaces, channels or deliveries that background work failed on"
        );
        _ended = _meter.CreateCounter<long>("lark.deliveries", description: "Deliveries by the state in which their sending ended");
        _lateSeconds = _meter.CreateHistogram<double>("lark.deliveries.lateness", "s", "How long after their time deliveries were sent");
        _meter.CreateObservableGauge(
            "lark.overdue.age",
            () => OldestOverdueSeconds,
            "s",
            "Age of the oldest delivery that is due and not dealt with, as last looked at"
        );
        _meter.CreateObservableGauge(
            "lark.put_aside",
            () => _aside.Select(a => new Measurement<int>(a.Value, Tag(a.Key))),
            description: "Things that are put aside after failures, as last looked at"
        );
    }

    /// <summary>As the sending loop last looked at it.</summary>
    public double OldestOverdueSeconds { get; set; }

    public void PutAside(WorkKind work, int count) => _aside[work] = count;

    public IReadOnlyList<LoopState> Loops => [.. _loops.Values.OrderBy(l => l.Work)];

    public void Passed(WorkKind work, TimeSpan took)
    {
        _passSeconds.Record(took.TotalSeconds, Tag(work));
        Note(work, l => l with { LastPassAt = _machine.Now(), LastPassSeconds = took.TotalSeconds, LastFailure = null });
    }

    /// <summary>A sign of life: within a long pass, or while there is nothing for it to do.</summary>
    public void Rested(WorkKind work) => Note(work, l => l with { LastPassAt = _machine.Now() });

    public void Failed(WorkKind work, string words)
    {
        _failures.Add(1, Tag(work));
        Note(work, l => l with { Failures = l.Failures + 1, LastFailure = words });
    }

    /// <summary>One thing failed within a pass that went on.</summary>
    public void FailedOnOne(WorkKind work) => _failures.Add(1, Tag(work));

    public void Ended(DeliveryState state, Duration late)
    {
        _ended.Add(1, new KeyValuePair<string, object?>("state", state.ToString()));
        if (state == DeliveryState.Sent)
            _lateSeconds.Record(late.TotalSeconds);
    }

    public void Dispose() => _meter.Dispose();

    private void Note(WorkKind work, Func<LoopState, LoopState> change) =>
        _loops.AddOrUpdate(work, w => change(new(w, null, 0, 0, null)), (_, state) => change(state));

    private static KeyValuePair<string, object?> Tag(WorkKind work) => new("work", work.ToString());
}
