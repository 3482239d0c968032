-- Three roles for the benches of a shop; users are made members of one: grant brachium_technician to somebody;
do $$
declare wanted text;
begin
  foreach wanted in array array['brachium_counter', 'brachium_technician', 'brachium_owner'] loop
    if not exists (select from pg_roles where rolname = wanted) then
      execute format('create role %I nologin', wanted);
    end if;
    execute format('grant usage on schema %I to %I', current_schema(), wanted);
  end loop;
end $$;

grant select on job, run, series, photo, setting, edit, sent, bench, alembic_version
  to brachium_counter, brachium_technician, brachium_owner;
grant insert, update, delete on bench to brachium_counter, brachium_technician, brachium_owner;
grant insert, delete on sent to brachium_counter, brachium_technician, brachium_owner;
grant insert on edit, photo to brachium_counter, brachium_technician, brachium_owner;
grant usage on sequence edit_id_seq to brachium_counter, brachium_technician, brachium_owner;
grant insert, update on job to brachium_counter, brachium_technician, brachium_owner;
grant insert, update on run to brachium_technician, brachium_owner;
grant insert on series to brachium_technician, brachium_owner;
grant insert, update, delete on setting to brachium_technician, brachium_owner;

-- The counter changes a record until bench work on it began: a run, a ticked step, a hand-over.
alter table job enable row level security;
drop policy if exists read_job on job;
drop policy if exists bench_job on job;
drop policy if exists take_in_job on job;
drop policy if exists counter_job on job;
create policy read_job on job for select using (true);
create policy bench_job on job for all to brachium_technician, brachium_owner using (true) with check (true);
create policy take_in_job on job for insert to brachium_counter with check (
  document::jsonb -> 'steps_done' = '[]'::jsonb and document::jsonb ->> 'handed_over' = '');
create policy counter_job on job for update to brachium_counter
  using (not exists (select from run where run.job_id = job.id)
    and document::jsonb -> 'steps_done' = '[]'::jsonb and document::jsonb ->> 'handed_over' = '')
  with check (document::jsonb -> 'steps_done' = '[]'::jsonb and document::jsonb ->> 'handed_over' = '');

-- Prices and settings are the owner's.
alter table setting enable row level security;
drop policy if exists read_setting on setting;
drop policy if exists owner_setting on setting;
drop policy if exists technician_setting on setting;
create policy read_setting on setting for select using (true);
create policy owner_setting on setting for all to brachium_owner using (true) with check (true);
create policy technician_setting on setting for all to brachium_technician
  using (key not in ('settings', 'catalogue')) with check (key not in ('settings', 'catalogue'));
