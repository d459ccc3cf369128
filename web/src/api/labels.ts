import type { Schema } from "./client";

/** The labels of enumerations, in lower case. Generated from the API document: npm run api. */
export const labels = {
  AtticState: {
    announced: "announced",
    "moving-to-attic": "being moved to the attic",
    "in-attic": "in the attic",
    due: "due to be erased",
    restoring: "being restored",
    restored: "in use again",
    stopped: "stopped before the move",
    "not-done": "refused by the host",
    erased: "erased",
  } satisfies Record<Schema["AtticState"], string>,
  BatchOutcome: {
    waiting: "queued",
    "under-way": "under way",
    done: "done",
    "asks-second": "waits for a second person",
    changed: "skipped: the facts have changed",
    refused: "not possible",
    "host-refused": "refused by the host",
    contradicted: "the host reports something else",
    withdrawn: "withdrawn",
  } satisfies Record<Schema["BatchOutcome"], string>,
  ClaimedFact: {
    unit: "unit",
    classification: "classification",
    purpose: "purpose",
    tags: "tags",
    name: "name",
    address: "address",
  } satisfies Record<Schema["ClaimedFact"], string>,
  EvidenceKind: {
    owners: "their owners",
    parent: "the site above",
    word: "words in the names of other sites",
    neighbours: "sites like them",
    meaning: "the meaning of a word",
  } satisfies Record<Schema["EvidenceKind"], string>,
  InactiveReason: {
    outside: "from outside",
    service: "a service account",
    left: "left",
    leaving: "leaving",
    absent: "absent",
    "mail-fails": "mail fails",
  } satisfies Record<Schema["InactiveReason"], string>,
  Level: {
    critical: "critical",
    warning: "warning",
    note: "note",
  } satisfies Record<Schema["Level"], string>,
  LinkPurpose: {
    password: "choose a password",
    offer: "an offer of ownership",
    stop: "moving a site to the attic",
    yours: "your sites",
    "manual-task": "a manual task",
  } satisfies Record<Schema["LinkPurpose"], string>,
  Remedy: {
    restrict: "restrict to policy",
    "add-owner": "add an owner",
    "remove-access": "remove the access of people who have left",
  } satisfies Record<Schema["Remedy"], string>,
  Role: {
    administrator: "administrator",
    steward: "steward",
    owner: "owner of sites",
    auditor: "auditor",
  } satisfies Record<Schema["Role"], string>,
  Status: {
    "never-published": "never published",
    published: "published",
    "unpublished-changes": "published, with unpublished changes",
    offline: "offline",
  } satisfies Record<Schema["Status"], string>,
  Strength: {
    sure: "sure",
    likely: "likely",
    split: "evidence differs",
  } satisfies Record<Schema["Strength"], string>,
};
