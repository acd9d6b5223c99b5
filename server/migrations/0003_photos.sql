-- Photographs of devices, kept once under the hash of what is kept; plans refer to them by it.

create table photo (
    sha256 text primary key constraint photo_named_by_its_hash check (sha256 = encode(sha256(jpeg), 'hex')),
    jpeg bytea not null constraint photo_size check (octet_length(jpeg) between 1 and 8388608),
    width_px integer not null constraint photo_width check (width_px between 1 and 2048),
    height_px integer not null constraint photo_height check (height_px between 1 and 2048),
    kept_at timestamptz not null default now()
);

comment on column photo.jpeg is 'encoded anew from the pixels, so without place, time, or camera of whoever took it';
