-- What the list of plans shows, kept beside each plan: assessing ten thousand plans for one look at the list took half a minute.

alter table plan add column summary jsonb;
alter table plan add column summary_of text;

comment on column plan.summary is 'what the list shows of the newest revision';
comment on column plan.summary_of is 'edit, rules and catalogue that it was made of; another means it is made anew';
