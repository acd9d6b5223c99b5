-- "infinity" and "NaN" are numbers to the database and to nothing else here: no restore brings one in.

alter table cell_reading drop constraint cell_reading_value;
alter table cell_reading add constraint cell_reading_value check (value >= 0 and value < 'infinity');

-- NaN counts as larger than infinity.
alter table cell add constraint cell_figures_finite check (
    (arrival_v is null or (arrival_v > '-infinity' and arrival_v < 'infinity'))
    and (resistance_ohm is null or (resistance_ohm > '-infinity' and resistance_ohm < 'infinity'))
    and (capacity_ah is null or (capacity_ah > '-infinity' and capacity_ah < 'infinity'))
    and (lost_a_day_v is null or (lost_a_day_v > '-infinity' and lost_a_day_v < 'infinity'))
);
