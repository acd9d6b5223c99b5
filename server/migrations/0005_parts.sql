-- A maker's own parts can be deleted, and deleting can be undone.

alter table part add column deleted_at timestamptz;
alter table part add column updated_at timestamptz not null default now();

comment on column part.deleted_at is 'set when deleted; deleting can be undone';
