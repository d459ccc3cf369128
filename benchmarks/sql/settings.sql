set work_mem = '256MB';
set max_parallel_workers_per_gather = 2;
