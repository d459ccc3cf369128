-- The few grants that name a unit or end: who reads all grants reads these apart.

create index site_grant_longer on site_grant (site, key) where unit is not null or through is not null;
