-- A build is one physical realisation of a revision of a plan; what happens in it is appended and never changed.

create table build (
    id uuid primary key,
    plan_id uuid not null references plan (id) on delete cascade,
    revision integer not null constraint build_revision check (revision >= 1),
    document jsonb not null,
    started_at timestamptz not null default now()
);

create index build_of_plan on build (plan_id);

create table build_event (
    build_id uuid not null references build (id) on delete cascade,
    number integer not null constraint build_event_counted check (number >= 1),
    key uuid not null,
    event jsonb not null,
    kept_at timestamptz not null default now(),
    primary key (build_id, number),
    constraint build_event_once unique (build_id, key)
);

comment on column build.document is 'the plan as it is built: a revision is written on while nobody makes it a new one';
comment on column build_event.key is 'given by whoever was at the bench: sent again after a lost answer it is kept once';
