namespace AbleLark.StandIns;

/// <summary>The tables of the stand-ins, made and brought up to date at each start.</summary>
internal static class Tables
{
    // Two processes may start at once: the lock keeps their "if not exists" apart.
    public const string Prepare = """
        select pg_advisory_lock(7465101);
        create schema if not exists stand_ins;
        create table if not exists stand_ins.accounts (
          id text primary key, network text not null, handle text not null, name text not null,
          followers int not null, interests jsonb not null, unique (network, handle));
        create table if not exists stand_ins.codes (code text primary key, account_id text not null, expires_at timestamptz not null);
        create table if not exists stand_ins.tokens (
          access text primary key, refresh text not null unique, account_id text not null, expires_at timestamptz not null, revoked
              bool not null default false);
        create table if not exists stand_ins.media (
          id text primary key, account_id text not null, key text not null, kind text not null, bytes bytea not null, unique
              (account_id, key));
        alter table stand_ins.media alter column bytes set storage external;
        create table if not exists stand_ins.posts (
          id text primary key, network text not null, account_id text not null, key text not null, text text not null,
          link text, media text[] not null, created_at timestamptz not null, under text, unique (account_id, key));
        alter table stand_ins.posts add column if not exists under text;
        alter table stand_ins.posts add column if not exists more jsonb not null default '{}';
        alter table stand_ins.posts add column if not exists shown jsonb not null default '[]';
        alter table stand_ins.accounts add column if not exists more jsonb not null default '{}';
        alter table stand_ins.media add column if not exists facts jsonb;
        create index if not exists posts_under on stand_ins.posts (under) where under is not null;
        create index if not exists posts_of_account on stand_ins.posts (account_id, created_at desc);
        create table if not exists stand_ins.faults (
          id bigserial primary key, account_id text, kind text not null, remaining int not null);
        create table if not exists stand_ins.manners (
          network text primary key, honours_keys bool not null, latency_ms int not null, late_seconds double precision not null);
        select pg_advisory_unlock(7465101);
        """;
}
