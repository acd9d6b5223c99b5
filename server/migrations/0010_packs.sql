-- A pack is a thing in the world. Its card is written over; what happened to it is appended and never changed.

create table pack (
    id uuid primary key,
    number integer not null constraint pack_numbered unique constraint pack_counted check (number >= 1),
    plan_id uuid references plan (id) on delete set null,
    build_id uuid references build (id) on delete set null,
    card jsonb not null,
    revision integer not null default 1 constraint pack_revision check (revision >= 1),
    summary jsonb,
    created_at timestamptz not null default now(),
    deleted_at timestamptz
);

create index pack_of_plan on pack (plan_id);
create index pack_of_build on pack (build_id);

create table pack_entry (
    pack_id uuid not null references pack (id) on delete cascade,
    number integer not null constraint pack_entry_counted check (number >= 1),
    key uuid not null,
    entry jsonb not null,
    kept_at timestamptz not null default now(),
    primary key (pack_id, number),
    constraint pack_entry_once unique (pack_id, key)
);

comment on column pack.summary is 'what the list says of it, reckoned with its last entry; a change of what is reckoned comes with a migration that empties it';
comment on column pack_entry.key is 'given by whoever wrote it: sent again after a lost answer it is kept once';
