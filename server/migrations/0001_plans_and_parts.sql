-- Plans with every saved revision, and the parts catalogue: what the first screens keep.

create table plan (
    id uuid primary key,
    name text not null constraint plan_name_length check (char_length(name) between 1 and 120),
    revision integer not null constraint plan_revision_positive check (revision >= 1),
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now(),
    deleted_at timestamptz
);

comment on column plan.revision is 'number of the newest row in plan_revision';
comment on column plan.deleted_at is 'set when deleted; deleting can be undone';

create index plan_by_change on plan (updated_at desc) where deleted_at is null;

create table plan_revision (
    plan_id uuid not null references plan (id) on delete cascade,
    revision integer not null constraint plan_revision_number check (revision >= 1),
    document jsonb not null,
    saved_at timestamptz not null default now(),
    primary key (plan_id, revision)
);

create table part (
    id text primary key constraint part_id_plain check (id ~ '^[A-Za-z0-9.-]{1,60}$'),
    kind text not null constraint part_kind_known check (
        kind in ('cell', 'strip', 'module', 'fuse', 'connector', 'switch', 'wire')
    ),
    document jsonb not null
);

-- One row once the demo was loaded, so that it is never loaded over what somebody changed since.
create table demo_load (
    only_one boolean primary key default true constraint demo_load_once check (only_one),
    loaded_at timestamptz not null default now()
);
