-- The stock of cells across all plans: lots, cells, what was read on them, what became of them.

create table lot (
    id uuid primary key,
    name text not null constraint lot_name_length check (char_length(name) between 1 and 120),
    document jsonb not null,
    created_at timestamptz not null default now(),
    deleted_at timestamptz
);

create unique index lot_name on lot (lower(name)) where deleted_at is null;

comment on column lot.document is 'name, source, day, and the cell as claimed: core''s Lot';
comment on column lot.deleted_at is 'set when deleted; deleting can be undone';

create table cell (
    id uuid primary key,
    lot_id uuid not null references lot (id),
    label text not null constraint cell_label_length check (char_length(label) between 1 and 40),
    state text not null default 'new' constraint cell_state_known check (
        state in ('new', 'tested', 'reserved', 'built_in', 'retired')
    ),
    plan_id uuid references plan (id),
    keep_with text constraint cell_keep_with_length check (char_length(keep_with) between 1 and 40),
    faults jsonb,
    -- What its readings come to, kept so that thousands can be sorted and filtered here.
    digest jsonb not null default '{}',
    verdict text not null default 'unfinished' constraint cell_verdict_known check (
        verdict in ('unfinished', 'fine', 'watch', 'recover', 'scrap')
    ),
    reason text not null default '',
    arrival_v double precision,
    resistance_ohm double precision,
    capacity_ah double precision,
    lost_a_day_v double precision,
    -- Order of labels as people read them: A2 before A10.
    label_order text collate "C" not null,
    deleted_at timestamptz,
    constraint cell_of_a_plan check ((state in ('reserved', 'built_in')) = (plan_id is not null))
);

create unique index cell_label on cell (lower(label)) where deleted_at is null;
create index cell_by_lot on cell (lot_id);
create index cell_by_plan on cell (plan_id) where plan_id is not null;

comment on column cell.deleted_at is 'set together with that of its lot';
comment on column cell.faults is 'faults found with the eye; null when nobody looked';

create table cell_reading (
    id uuid primary key,
    cell_id uuid not null references cell (id) on delete cascade,
    kind text not null constraint cell_reading_kind check (
        kind in ('arrival_v', 'rested_v', 'resistance_ohm', 'capacity_ah', 'self_discharge_v')
    ),
    value double precision not null constraint cell_reading_value check (value >= 0),
    conditions jsonb not null default '{}',
    taken_at timestamptz not null default now(),
    struck_at timestamptz
);

create index cell_reading_of on cell_reading (cell_id);

comment on column cell_reading.struck_at is 'set when struck out; striking can be undone';

create table cell_event (
    id uuid primary key,
    cell_id uuid not null references cell (id) on delete cascade,
    at timestamptz not null default now(),
    from_state text,
    to_state text not null,
    plan_id uuid references plan (id),
    note text not null default ''
);

create index cell_event_of on cell_event (cell_id);
