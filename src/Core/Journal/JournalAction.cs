namespace AtticLedger.Core.Journal;

/// <summary>What an entry changes in the register's index.</summary>
public enum Changed : byte
{
    /// <summary>The site that the entry is about.</summary>
    Site,

    /// <summary>People or groups.</summary>
    People,

    /// <summary>Rules.</summary>
    Rules,

    /// <summary>Limits, units or words, or a whole list.</summary>
    Organisation,
    Nothing,
}

/// <summary>What a journal entry records. A closed list: the journal's filter, the feed and the labels come from it. The names are
/// part of the hashed text, so a released one never changes.
/// </summary>
public sealed class JournalAction
{
    private static readonly Dictionary<string, JournalAction> ByName = new(StringComparer.Ordinal);

    public static JournalAction SiteRestrict { get; } = new("site.restrict", "restricting access was requested");

    public static JournalAction SiteLook { get; } = new("site.look", "a change of name, description or logo was requested");

    public static JournalAction SiteAddress { get; } = new("site.address", "a change of an address was requested");

    public static JournalAction AccessRemove { get; } = new("access.remove", "removing somebody's access was requested");

    public static JournalAction LimitSet { get; } = new("limit.set", "a limit was set", Changed.Organisation);

    public static JournalAction InvitationMade { get; } =
        new("invitation.made", "an invitation of a guest was requested", Changed.Nothing);

    public static JournalAction InvitationSent { get; } =
        new("invitation.sent", "nothing stopped the invitation of a guest any more: it was sent");

    public static JournalAction InvitationWithdrawn { get; } =
        new("invitation.withdrawn", "the invitation of a guest was withdrawn");

    public static JournalAction InvitationExpired { get; } =
        new("invitation.expired", "the invitation of a guest expired: nobody signed in");

    public static JournalAction GuestAdded { get; } =
        new("guest.added", "a new guest is in the register, for an invitation", Changed.People);

    public static JournalAction GuestKept { get; } =
        new("guest.kept", "a guest was reviewed and is still needed", Changed.Nothing);

    public static JournalAction AccessGrant { get; } = new("access.grant", "granting access was requested");

    public static JournalAction ChangeUndo { get; } = new("change.undo", "a change was undone");

    public static JournalAction ChangeSent { get; } = new("change.sent", "a change was sent to the host");

    public static JournalAction ChangeConfirmed { get; } = new("change.confirmed", "the host confirmed a change");

    public static JournalAction ChangeVerified { get; } = new("change.verified", "a sync verified a change");

    public static JournalAction ChangeContradicted { get; } = new("change.contradicted", "a sync contradicted a change");

    public static JournalAction ChangeRefused { get; } = new("change.refused", "the host refused a change");

    public static JournalAction ChangeWithdrawn { get; } = new("change.withdrawn", "a change was withdrawn");

    public static JournalAction ChangeSuperseded { get; } = new("change.superseded", "a change was superseded by a later one");

    public static JournalAction ChangeGivenUp { get; } = new("change.given-up", "a change failed after many attempts");

    public static JournalAction OwnerAsked { get; } = new("owner.asked", "leaving owners were asked to hand over");

    public static JournalAction OwnerOffered { get; } = new("owner.offered", "a site was offered to a new owner");

    public static JournalAction OwnerAccepted { get; } = new("owner.accepted", "an offer was accepted");

    public static JournalAction OwnerHandedOver { get; } = new("owner.handed-over", "a site was handed over");

    public static JournalAction OwnerNotDone { get; } = new("owner.not-done", "the host refused to change an owner");

    public static JournalAction OwnerDeclined { get; } = new("owner.declined", "an offer was declined");

    public static JournalAction OwnerWithdrawn { get; } = new("owner.withdrawn", "an offer was withdrawn");

    public static JournalAction OwnerLapsed { get; } = new("owner.lapsed", "an offer lapsed");

    public static JournalAction OwnerVoid { get; } = new("owner.void", "an offer became void");

    public static JournalAction ApprovalRequested { get; } = new("approval.requested", "a second person was asked for");

    public static JournalAction ApprovalApproved { get; } = new("approval.approved", "a second person agreed");

    public static JournalAction ApprovalDeclined { get; } = new("approval.declined", "a second person did not agree");

    public static JournalAction ApprovalWithdrawn { get; } =
        new("approval.withdrawn", "the request for a second person was withdrawn");

    public static JournalAction ApprovalLapsed { get; } = new("approval.lapsed", "the request for a second person lapsed");

    public static JournalAction ApprovalRenewed { get; } = new("approval.renewed", "a second person was asked again");

    public static JournalAction ApprovalVoid { get; } = new("approval.void", "a request for a second person became void");

    public static JournalAction AtticAnnounced { get; } = new("attic.announced", "an owner announced a move to the attic");

    public static JournalAction AtticStopped { get; } = new("attic.stopped", "a move to the attic was stopped");

    public static JournalAction SiteMoveToAttic { get; } = new("site.move-to-attic", "a move to the attic was requested");

    public static JournalAction AtticMoved { get; } = new("attic.moved", "a site was moved to the attic");

    public static JournalAction AtticFound { get; } = new("attic.found", "a site was found deleted at its host");

    public static JournalAction AtticDue { get; } = new("attic.due", "a site's time in the attic was over");

    public static JournalAction AtticExtended { get; } = new("attic.extended", "a site's time in the attic was extended");

    public static JournalAction SiteRestore { get; } = new("site.restore", "restoring a site was requested");

    public static JournalAction AtticRestored { get; } = new("attic.restored", "a site was restored");

    public static JournalAction AtticNotDone { get; } = new("attic.not-done", "the host refused to delete a site");

    public static JournalAction AtticNotRestored { get; } = new("attic.not-restored", "the host refused to restore a site");

    public static JournalAction AtticErased { get; } = new("attic.erased", "the host erased a site");

    public static JournalAction TaskAssigned { get; } = new("task.assigned", "a manual task was assigned");

    public static JournalAction TaskDone { get; } = new("task.done", "a manual task was reported done");

    public static JournalAction TaskFailed { get; } = new("task.failed", "a manual task was reported as failed");

    public static JournalAction TaskVerified { get; } = new("task.verified", "a manual task was verified");

    public static JournalAction TaskReturned { get; } = new("task.returned", "a manual task was returned");

    public static JournalAction TaskReassigned { get; } = new("task.reassigned", "a manual task was reassigned");

    public static JournalAction TaskCancelled { get; } = new("task.cancelled", "a manual task was cancelled");

    public static JournalAction TaskOverdue { get; } = new("task.overdue", "a manual task became overdue");

    public static JournalAction BatchStarted { get; } = new("batch.started", "a batch was started", Changed.Nothing);

    public static JournalAction BatchStopped { get; } = new("batch.stopped", "a batch was stopped", Changed.Nothing);

    public static JournalAction BatchResumed { get; } = new("batch.resumed", "a batch was continued", Changed.Nothing);

    public static JournalAction BatchEnded { get; } = new("batch.ended", "a batch ended", Changed.Nothing);

    public static JournalAction HoldPlaced { get; } = new("hold.placed", "a hold was placed");

    public static JournalAction HoldReleased { get; } = new("hold.released", "a hold was released");

    public static JournalAction ExceptionGranted { get; } = new("exception.granted", "an exception from a rule was granted");

    public static JournalAction DecisionPutOff { get; } =
        new("decision.put-off", "a decision of the desk was put off", Changed.Nothing);

    public static JournalAction DecisionTakenUp { get; } =
        new("decision.taken-up", "a decision that was put off came back to the desk", Changed.Nothing);

    public static JournalAction QuestionAsked { get; } = new("question.asked", "owners were asked about a finding");

    public static JournalAction QuestionAnswered { get; } =
        new("question.answered", "an owner answered a question about a finding");

    public static JournalAction QuestionOverdue { get; } =
        new("question.overdue", "a question to owners was not answered by its last day");

    public static JournalAction QuestionEnded { get; } = new("question.ended", "a question to owners ended, with its finding");

    public static JournalAction ExceptionEnded { get; } = new("exception.ended", "an exception was ended before its day");

    public static JournalAction VocabularyChanged { get; } =
        new("vocabulary.changed", "the vocabulary was changed", Changed.Organisation);

    public static JournalAction RuleWritten { get; } = new("rule.written", "a rule was written", Changed.Rules);

    public static JournalAction RuleSwitchedOff { get; } = new("rule.switched-off", "a rule was switched off", Changed.Rules);

    public static JournalAction PersonLeft { get; } = new("person.left", "a person left", Changed.People);

    public static JournalAction SiteFactsSet { get; } = new("site.facts-set", "a fact of a site was set");

    public static JournalAction SiteMoved { get; } = new("site.moved", "a site was marked as moved");

    public static JournalAction SiteNotMoved { get; } = new("site.not-moved", "a move between hosts was undone");

    public static JournalAction TwinsBothRight { get; } =
        new("twins.both-right", "two sites with near names were said to be both right");

    public static JournalAction TwinsOpenedAgain { get; } =
        new("twins.opened-again", "two sites were no longer said to be both right");

    public static JournalAction SiteNearNames { get; } = new("site.near-names", "the number of sites with near names changed");

    public static JournalAction NamesCounted { get; } =
        new("names.counted", "the near names of all sites were counted", Changed.Organisation);

    public static JournalAction AddressAsked { get; } =
        new("address.asked", "the holder of an address was sent a message", Changed.Nothing);

    public static JournalAction RequestMade { get; } = new("request.made", "a request to start a site was made", Changed.Nothing);

    public static JournalAction RequestGranted { get; } =
        new("request.granted", "a request to start a site was granted", Changed.Nothing);

    public static JournalAction RequestRefused { get; } =
        new("request.refused", "a request to start a site was refused", Changed.Nothing);

    public static JournalAction RequestWithdrawn { get; } =
        new("request.withdrawn", "a request to start a site was withdrawn", Changed.Nothing);

    public static JournalAction RequestLapsed { get; } =
        new("request.lapsed", "a request to start a site lapsed", Changed.Nothing);

    public static JournalAction MakingStepDone { get; } =
        new("making.step-done", "a step of making a site was done", Changed.Nothing);

    public static JournalAction MakingStopped { get; } = new("making.stopped", "making a site stopped", Changed.Nothing);

    public static JournalAction MakingResumed { get; } = new("making.resumed", "making a site was resumed", Changed.Nothing);

    public static JournalAction MakingGivenUp { get; } = new("making.given-up", "making a site was given up", Changed.Nothing);

    public static JournalAction SiteMade { get; } = new("site.made", "a site was made as requested");

    public static JournalAction SiteSynced { get; } = new("site.synced", "a sync found a change at the host");

    public static JournalAction SiteNoLongerReported { get; } =
        new("site.no-longer-reported", "a site was no longer reported by its host");

    public static JournalAction RegisterImported { get; } =
        new("register.imported", "the sites of a source were added", Changed.Organisation);

    public static JournalAction OrganisationFounded { get; } =
        new("organisation.founded", "the organisation was set up", Changed.Organisation);

    public static JournalAction UnitAdded { get; } = new("unit.added", "a unit was added", Changed.People);

    public static JournalAction PeopleSynced { get; } = new("people.synced", "people or groups changed", Changed.People);

    public static JournalAction PersonChanged { get; } =
        new("person.changed", "an import changed or added a person", Changed.Nothing);

    public static JournalAction PeopleImported { get; } = new("people.imported", "a list of people was imported", Changed.People);

    public static JournalAction PeopleUndone { get; } = new("people.undone", "an import of people was undone", Changed.People);

    public static JournalAction HostSynced { get; } =
        new("host.synced", "a host's limit or capabilities changed", Changed.Organisation);

    public static JournalAction HostProcedureSet { get; } =
        new("host.procedure-set", "a manual procedure was set", Changed.Organisation);

    public static JournalAction ListImported { get; } = new("list.imported", "a list of sites was imported", Changed.Nothing);

    public static JournalAction ListUndone { get; } = new("list.undone", "an import of sites was undone", Changed.Nothing);

    public static JournalAction AccountAdded { get; } = new("account.added", "an account was added", Changed.People);

    public static JournalAction AccountChanged { get; } = new("account.changed", "an account got another role", Changed.Nothing);

    public static JournalAction AccountRemoved { get; } = new("account.removed", "an account was removed", Changed.Nothing);

    public static JournalAction AdministratorsNone { get; } =
        new("administrators.none", "the last administrator left", Changed.Nothing);

    public static JournalAction SourceMissingConfirmed { get; } =
        new("source.missing-confirmed", "missing sites were confirmed as gone", Changed.Nothing);

    public static JournalAction CalendarCreated { get; } = new("calendar.created", "a calendar link was made", Changed.Nothing);

    public static JournalAction CalendarRevoked { get; } =
        new("calendar.revoked", "a calendar link was revoked", Changed.Nothing);

    public static JournalAction SessionBegan { get; } = new("session.began", "a person signed in", Changed.Nothing);

    public static JournalAction SessionRevoked { get; } = new("session.revoked", "a session was ended", Changed.Nothing);

    public static JournalAction PasswordChosen { get; } = new("password.chosen", "a person chose a password", Changed.Nothing);

    public static JournalAction SignInRefused { get; } = new("sign-in.refused", "sign-ins were refused", Changed.Nothing);

    public static JournalAction LinkRefused { get; } = new("link.refused", "a link from a mail was refused", Changed.Nothing);

    public static JournalAction Refused { get; } = new("refused", "a request was refused", Changed.Nothing);

    public static JournalAction ClockMoved { get; } = new("clock.moved", "the demo's clock was moved", Changed.Organisation);

    private JournalAction(string name, string label, Changed changes = Changed.Site)
    {
        (Name, Label, Changes) = (name, label, changes);
        ByName.Add(name, this);
    }

    /// <summary>All of them, in the order in which lists show them.</summary>
    public static IReadOnlyCollection<JournalAction> All => ByName.Values;

    /// <summary>The name in the journal: <c>site.synced</c>.</summary>
    public string Name { get; }

    /// <summary>What happened, to follow the word "where": "a site was handed over".</summary>
    public string Label { get; }

    public Changed Changes { get; }

    /// <summary>The action of this name; null for a name that this version does not know.</summary>
    public static JournalAction? Find(string name) => ByName.GetValueOrDefault(name);

    public override string ToString() => Name;
}
