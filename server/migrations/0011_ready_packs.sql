-- Packs that are taken as a whole are parts, too.
alter table part drop constraint part_kind_known;
alter table part add constraint part_kind_known check (
    kind in ('cell', 'pack', 'strip', 'module', 'fuse', 'connector', 'switch', 'wire')
);
