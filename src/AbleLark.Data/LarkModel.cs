using System.Text.Json;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Media;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Backups;
using AbleLark.Data.Changes;
using AbleLark.Data.Channels;
using AbleLark.Data.Deliveries;
using AbleLark.Data.Imports;
using AbleLark.Data.People;
using AbleLark.Data.Posts;
using AbleLark.Data.Time;
using AbleLark.Data.Work;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace AbleLark.Data;

/// <summary>How the types lie in tables. Keys begin with the workspace, so that no reference can cross from one to another.</summary>
internal static class LarkModel
{
    public static void Build(ModelBuilder builder)
    {
        builder.HasPostgresExtension("pg_trgm");
        People(builder);
        SetUp(builder);
        Content(builder);
        Sending(builder);
        History(builder);
    }

    private static void People(ModelBuilder builder)
    {
        builder.Entity<Person>().ToTable("people");
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("person_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("person_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("person_tokens");
        builder.Entity<Membership>(e =>
        {
            e.HasKey(m => new { m.WorkspaceId, m.PersonId });
            e.Property(m => m.Role).HasConversion<string>();
            e.HasOne<Workspace>().WithMany().HasForeignKey(m => m.WorkspaceId);
            e.HasOne<Person>().WithMany().HasForeignKey(m => m.PersonId);
        });
    }

    private static void SetUp(ModelBuilder builder)
    {
        builder.Entity<Workspace>(e =>
        {
            e.HasKey(w => w.Id);
            e.HasIndex(w => w.Slug).IsUnique();
        });
        builder.Entity<Channel>(e =>
        {
            e.HasKey(c => new { c.WorkspaceId, c.Id });
            e.HasIndex(c => new { c.WorkspaceId, c.Network, c.Account }).IsUnique();
            e.Property(c => c.Connection).HasConversion<string>();
            e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
        });
        builder.Entity<ChannelSecret>(e =>
        {
            e.HasKey(s => new { s.WorkspaceId, s.ChannelId });
            e.HasOne<Channel>().WithOne().HasForeignKey<ChannelSecret>(s => new { s.WorkspaceId, s.ChannelId });
        });
        builder.Entity<ChannelAudience>(e =>
        {
            e.HasKey(a => new { a.WorkspaceId, a.ChannelId });
            Json(e.Property(a => a.Online));
            e.HasOne<Channel>().WithOne().HasForeignKey<ChannelAudience>(a => new { a.WorkspaceId, a.ChannelId });
        });
        builder.Entity<Category>(e =>
        {
            e.HasKey(c => new { c.WorkspaceId, c.Id });
            e.HasIndex(c => new { c.WorkspaceId, c.Name }).IsUnique();
            Json(e.Property(c => c.UsualChannels));
            Json(e.Property(c => c.Order));
            Json(e.Property(c => c.Hashtags));
            e.Property(c => c.Lifespan).HasConversion<string>();
            e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
        });
        builder.Entity<Rota>(e =>
        {
            e.HasKey(r => new { r.WorkspaceId, r.Id });
            e.Property(r => r.Version).IsConcurrencyToken();
            e.HasOne<Workspace>().WithMany().HasForeignKey(r => r.WorkspaceId);
            e.HasOne<Rota>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.Replaces }).OnDelete(DeleteBehavior.Restrict);
        });
        builder.Entity<Slot>(e =>
        {
            e.HasKey(s => new { s.WorkspaceId, s.Id });
            Json(e.Property(s => s.Days));
            Json(e.Property(s => s.Channels));
            Json(e.Property(s => s.Categories));
            Json(e.Property(s => s.Order));
            e.Property(s => s.Rhythm).HasConversion<string>();
            e.HasOne<Rota>().WithMany(r => r.Slots).HasForeignKey(s => new { s.WorkspaceId, s.RotaId });
        });
        builder.Entity<Decision>(e =>
        {
            e.HasKey(d => new { d.WorkspaceId, d.Id });
            e.HasIndex(d => new { d.WorkspaceId, d.SlotId, d.Date }).IsUnique();
            e.Ignore(d => d.Key);
            Json(e.Property(d => d.Posts));
            e.HasOne<Slot>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.SlotId });
        });
        builder.Entity<Pause>(e =>
        {
            e.HasKey(p => new { p.WorkspaceId, p.Id });
            e.Property(p => p.What).HasConversion<string>();
            e.HasOne<Workspace>().WithMany().HasForeignKey(p => p.WorkspaceId);
        });
        builder.Entity<LineMove>(e =>
        {
            e.HasKey(m => new { m.WorkspaceId, m.Id });
            e.HasIndex(m => new { m.WorkspaceId, m.PostId, m.ChannelId }).IsUnique();
            e.Property(m => m.Side).HasConversion<string>();
            e.HasOne<Post>().WithMany().HasForeignKey(m => new { m.WorkspaceId, m.PostId });
            e.HasOne<Channel>().WithMany().HasForeignKey(m => new { m.WorkspaceId, m.ChannelId });
        });
        builder.Entity<PassedPlace>(e =>
        {
            e.HasKey(p => new { p.WorkspaceId, p.Id });
            e.HasIndex(p => new { p.WorkspaceId, p.SlotId, p.SlotDate }).IsUnique();
            e.HasIndex(p => new { p.WorkspaceId, p.At });
            Json(e.Property(p => p.Channels));
            e.HasOne<Slot>().WithMany().HasForeignKey(p => new { p.WorkspaceId, p.SlotId });
        });
        builder.Entity<ApiToken>(e =>
        {
            e.HasKey(t => new { t.WorkspaceId, t.Id });
            e.HasIndex(t => t.Digest).IsUnique();
            Json(e.Property(t => t.Rights));
            e.HasOne<Workspace>().WithMany().HasForeignKey(t => t.WorkspaceId);
            e.HasOne<Person>().WithMany().HasForeignKey(t => t.PersonId);
        });
        builder.Entity<BusinessTime>().HasKey(t => t.Id);
        builder.Entity<BusinessTime>().Property(t => t.Id).ValueGeneratedNever();
    }

    private static void Content(ModelBuilder builder)
    {
        builder.Entity<Post>(e =>
        {
            e.HasKey(p => new { p.WorkspaceId, p.Id });
            e.Property(p => p.Stage).HasConversion<string>().HasField("_stage");
            e.Ignore(p => p.AllCategories);
            e.Property(p => p.Lifespan).HasConversion<string>();
            e.Property(p => p.Version).IsConcurrencyToken();
            e.HasIndex(p => p.SearchText).HasMethod("gin").HasOperators("gin_trgm_ops");
            Json(e.Property(p => p.FurtherCategories));
            Json(e.Property(p => p.Channels));
            Json(e.Property(p => p.Content));
            Json(e.Property(p => p.Fits));
            Json(e.Property(p => p.Hashes));
            e.HasOne<Category>().WithMany().HasForeignKey(p => new { p.WorkspaceId, p.CategoryId }).OnDelete(DeleteBehavior.Restrict);
        });
        builder.Entity<PostVersion>(e =>
        {
            e.HasKey(v => new { v.WorkspaceId, v.PostId, v.Number });
            Json(e.Property(v => v.Content));
            e.HasOne<Post>().WithMany().HasForeignKey(v => new { v.WorkspaceId, v.PostId });
        });
        builder.Entity<Approval>(e =>
        {
            e.HasKey(a => new { a.WorkspaceId, a.Id });
            e.HasIndex(a => new { a.WorkspaceId, a.PostId });
            Json(e.Property(a => a.Hashes));
            e.HasOne<Post>().WithMany().HasForeignKey(a => new { a.WorkspaceId, a.PostId });
        });
        builder.Entity<MediaFile>(e =>
        {
            e.ToTable("media");
            e.HasKey(m => new { m.WorkspaceId, m.Id });
            e.HasIndex(m => new { m.WorkspaceId, m.Hash });
            e.HasOne<Workspace>().WithMany().HasForeignKey(m => m.WorkspaceId);
        });
    }

    private static void Sending(ModelBuilder builder)
    {
        builder.Entity<Delivery>(e =>
        {
            e.HasKey(d => new { d.WorkspaceId, d.Id });
            e.Property(d => d.State).HasConversion<string>();
            e.Property(d => d.DrawnInOrder).HasConversion<string>();
            e.Ignore(d => d.Key);
            e.Ignore(d => d.ShownAddress);
            Json(e.Property(d => d.Sent));
            Json(e.Property(d => d.Facts));
            // Nothing can be planned twice: one delivery for each occurrence and channel, one for each exact time.
            e.HasIndex(d => new { d.WorkspaceId, d.SlotId, d.SlotDate, d.ChannelId }).IsUnique().HasFilter("slot_id is not null and state not in ('Substitute', 'Missed') and not look_up_only");
            e.HasIndex(d => new { d.WorkspaceId, d.PostId, d.ChannelId, d.At }).IsUnique().HasFilter("slot_id is null and state <> 'Cancelled'");
            // A delivery has at most one other in its place that may still go or went.
            e.HasIndex(d => new { d.WorkspaceId, d.InsteadOf }).IsUnique().HasFilter("instead_of is not null and state <> 'Cancelled'");
            e.Property(d => d.Lease).IsConcurrencyToken();
            e.Property(d => d.Revision).IsConcurrencyToken();
            e.HasIndex(d => new { d.WorkspaceId, d.ChannelId, d.State, d.At });
            e.HasIndex(d => new { d.State, d.At });
            e.HasIndex(d => d.NextReadingAt);
            e.HasIndex(d => new { d.WorkspaceId, d.At });
            e.HasOne<Post>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.PostId }).OnDelete(DeleteBehavior.Restrict);
            e.HasOne<Channel>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.ChannelId }).OnDelete(DeleteBehavior.Restrict);
            e.HasOne<Slot>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.SlotId }).OnDelete(DeleteBehavior.Restrict);
            e.HasOne<Delivery>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.InsteadOf }).OnDelete(DeleteBehavior.Restrict);
        });
        builder.Entity<DeliveryAttempt>(e =>
        {
            e.HasKey(a => new { a.WorkspaceId, a.Id });
            e.Property(a => a.End).HasConversion<string>();
            e.Ignore(a => a.IsOpen);
            e.HasOne<Delivery>().WithMany().HasForeignKey(a => new { a.WorkspaceId, a.DeliveryId });
        });
        builder.Entity<Reading>(e =>
        {
            e.HasKey(r => new { r.WorkspaceId, r.DeliveryId, r.At });
            Json(e.Property(r => r.Figures));
            e.HasOne<Delivery>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.DeliveryId });
        });
        builder.Entity<AgeFigures>(e =>
        {
            e.HasKey(r => new { r.WorkspaceId, r.DeliveryId, r.AgeHours });
            Json(e.Property(r => r.Figures));
            e.HasOne<Delivery>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.DeliveryId });
        });
    }

    private static void History(ModelBuilder builder)
    {
        builder.Entity<Restore>().HasKey(r => r.Id);
        builder.Entity<WorkFailure>(e =>
        {
            e.HasKey(f => new { f.WorkspaceId, f.Work, f.Subject });
            e.Property(f => f.Work).HasConversion<string>();
            e.HasOne<Workspace>().WithMany().HasForeignKey(f => f.WorkspaceId);
        });
        builder.Entity<ChangeSet>(e =>
        {
            // Two who take the same act back at once: the second is told.
            e.Property(c => c.UndoneAt).IsConcurrencyToken();
            e.HasKey(c => new { c.WorkspaceId, c.Id });
            e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
            e.HasIndex(c => new { c.WorkspaceId, c.At });
        });
        builder.Entity<Change>(e =>
        {
            e.HasKey(c => new { c.WorkspaceId, c.ChangeSetId, c.Number });
            e.Property(c => c.Kind).HasConversion<string>();
            Json(e.Property(c => c.Before));
            Json(e.Property(c => c.After));
            e.HasOne<ChangeSet>().WithMany(s => s.Changes).HasForeignKey(c => new { c.WorkspaceId, c.ChangeSetId });
            e.HasIndex(c => new { c.WorkspaceId, c.EntityId });
        });
        builder.Entity<ImportRun>(e =>
        {
            e.HasKey(i => new { i.WorkspaceId, i.Id });
            e.HasOne<ChangeSet>().WithMany().HasForeignKey(i => new { i.WorkspaceId, i.ChangeSetId });
        });
    }

    /// <summary>Keeps a value as one jsonb document; two values are the same when their documents are.</summary>
    private static void Json<T>(PropertyBuilder<T> property)
    {
        property.HasColumnType("jsonb").HasConversion(
            value => JsonSerializer.Serialize(value, LarkJson.Options),
            text => JsonSerializer.Deserialize<T>(text, LarkJson.Options)!,
            new ValueComparer<T>(
                (a, b) => JsonSerializer.Serialize(a, LarkJson.Options) == JsonSerializer.Serialize(b, LarkJson.Options),
                value => JsonSerializer.Serialize(value, LarkJson.Options).GetHashCode(StringComparison.Ordinal),
                value => JsonSerializer.Deserialize<T>(JsonSerializer.Serialize(value, LarkJson.Options), LarkJson.Options)!));
    }
}
