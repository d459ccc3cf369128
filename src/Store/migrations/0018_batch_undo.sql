-- A batch that takes another back, site by site.

alter table batch add column undoes uuid references batch;
create index batch_undoes on batch (undoes) where undoes is not null;

alter table batch_line add column undoes uuid;
