-- Verdicts of cells are kept beside them: rules that have changed since must judge them anew.
alter table lot add column judged_by text not null default '';

comment on column lot.judged_by is 'rules that its verdicts were made by; others mean they are made anew at the next start';
