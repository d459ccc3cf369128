-- What sites are tagged with, in the words of the sources. Nobody has spoken of it so far.

alter table site add column tags text;
update site set unknowns = array_append(unknowns, 'tags');
