-- An offer can add an owner; the others stay.
alter table offer drop constraint offer_current_owner_after_check;
alter table offer add constraint offer_current_owner_after_check check (current_owner_after between 0 and 2);
