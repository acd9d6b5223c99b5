-- Autosave writes the newest revision again for ten minutes of work: how often it was written tells two tabs apart.

alter table plan add column edit integer not null default 1 constraint plan_edit_positive check (edit >= 1);
comment on column plan.edit is 'how often the newest revision was written; a save names revision and edit';

alter table plan_revision add column began_at timestamptz not null default now();
update plan_revision set began_at = saved_at;
comment on column plan_revision.began_at is 'first write of this revision';
comment on column plan_revision.saved_at is 'last write of this revision';
