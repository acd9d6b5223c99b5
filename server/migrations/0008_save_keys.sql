-- A save whose answer was lost is sent again: by its key it is known as one's own, and no second tab is to blame.

alter table plan add column save_key uuid;

comment on column plan.save_key is 'key that the browser gave the last save';
