using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Changes at hosts without a connector that writes: assigned to a person, done with evidence, verified by the next
/// list or a second person. A task that was reported done and is not goes back to the assignee with the difference.
/// </summary>
public static class ManualTaskSteps
{
    /// <summary>The change is never sent: a person has it.</summary>
    public static readonly DateTimeOffset Never = new(9999, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <summary>What a preview says about a manual task; null for hosts with a connector that writes.</summary>
    public static string? PreviewText(SiteFacts site, Organisation organisation, PersonId asks, PeopleDirectory directory) =>
        organisation.CapabilitiesOf(site.Host).ManualProcedure is { } how
            ? $"{site.Host} has no connector: {(To(how, asks, directory) is var to && to == asks ? "you get this as a manual task" : $"{directory.Find(to)?.Name} gets this as a manual task")}, due at the end of {directory.Time.DayOf(directory.Now).Plus(how.Days).InWords()}."
            : null;

    /// <summary>Assigns a change to the person who does the tasks of its host; if they have left or nobody is set, to the person
    /// who requested it.</summary>
    public static ManualTaskStep Give(HostChange hostChange, SiteFacts site, ManualProcedure how, PeopleDirectory directory)
    {
        var to = To(how, hostChange.By, directory);
        var through = directory.Time.DayOf(directory.Now).Plus(how.Days);
        var manualTask = new ManualTask
        {
            HostChange = hostChange.Id,
            To = to,
            GivenAt = directory.Now,
            Through = through,
            Steps = ManualProcedure.For(
                site,
                hostChange.Purpose switch
                {
                    ChangePurpose.Owners => how.Owners,
                    ChangePurpose.MoveToAttic => how.MoveToAttic,
                    ChangePurpose.Restore => how.Restore,
                    ChangePurpose.Look or ChangePurpose.Address => how.Look,
                    _ => how.Reach,
                }
            ),
            Account = how.Account,
            Support = how.Support,
        };
        var given = hostChange.Move(ChangeEvent.Send) with
        {
            Attempts = hostChange.Attempts + 1,
            SentAt = directory.Now,
            NextTry = Never,
            DueAt = directory.Time.EndOf(through),
            Words = null,
        };
        return new ManualTaskStep(
            given,
            manualTask,
            null,
            [Given(given, manualTask, site, directory.Find(hostChange.By)?.Name ?? "The register")]
        );
    }

    /// <summary>Reassigns it; the new assignee gets as many days as the first had.</summary>
    public static ManualTaskStep Reassign(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PersonId to,
        PersonId by,
        PeopleDirectory directory
    )
    {
        var today = directory.Time.DayOf(directory.Now);
        var through = today.Plus(Math.Max(1, manualTask.Through.DayNumber - directory.Time.DayOf(manualTask.GivenAt).DayNumber));
        var moved = manualTask with { To = to, GivenAt = directory.Now, Through = through };
        return new ManualTaskStep(
            hostChange with
            {
                DueAt = directory.Time.EndOf(through),
            },
            moved,
            null,
            [
                Given(hostChange, moved, site, directory.Find(by)?.Name ?? "The register"),
                .. manualTask.To == by
                    ? Array.Empty<Notification>()
                    :
                    [
                        Plain(
                            manualTask.To,
                            hostChange,
                            "over",
                            directory.Now,
                            $"Reassigned: {site.Title}",
                            $"{directory.Find(by)?.Name} reassigned the task to {directory.Find(to)?.Name}."
                        ),
                    ],
            ]
        );
    }

    /// <summary>The assignee reports it done: the request counts as confirmed until something contradicts it.</summary>
    public static ManualTaskStep Done(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PersonId by,
        string? report,
        DateTimeOffset now
    )
    {
        var confirmed = hostChange.Move(ChangeEvent.Confirm) with { ConfirmedAt = now, Words = null };
        var said = site.Sharing.Has(out var sharing) ? sharing : null;
        var done = new HostAnswer.Done(
            said is null ? [] : said.Grants.With(hostChange.WantedState.Grants),
            said?.OwnLimit,
            hostChange.WantedState.Existence == Existence.Attic
                ? new Bin(now, by, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None)
                : null,
            hostChange.WantedState.Address
        );
        var after = Intake.Confirm(site, hostChange.WantedState, done, now);

        // If it is unknown who has access, the report does not make the rest known.
        return new ManualTaskStep(
            confirmed,
            manualTask with
            {
                DoneBy = by,
                Report = report,
                CheckedBy = null,
            },
            said is null ? after with { Sharing = site.Sharing } : after,
            []
        );
    }

    /// <summary>The assignee reports that it failed; the person who requested it is told why.</summary>
    public static ManualTaskStep Cannot(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PersonId by,
        string words,
        PeopleDirectory directory
    ) =>
        new(
            hostChange.Move(ChangeEvent.Refuse) with
            {
                Words = words,
            },
            manualTask with
            {
                DoneBy = by,
                Report = words,
            },
            null,
            hostChange.By == by
                ? []
                :
                [
                    To(
                        hostChange.By,
                        hostChange,
                        manualTask,
                        $"task:{hostChange.Id}:failed:{directory.Now.UtcTicks}",
                        $"Manual task failed: {site.Title}",
                        $"{directory.Find(by)?.Name} reports about your request at {site.Host}: \"{words}\" Nothing has changed there.",
                        urgent: true
                    ),
                ]
        );

    /// <summary>The person who requested it or an administrator cancels it.</summary>
    public static ManualTaskStep Cancel(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PersonId by,
        string? reason,
        PeopleDirectory directory
    ) =>
        new(
            hostChange.Move(ChangeEvent.Cancel) with
            {
                Words = reason,
            },
            manualTask,
            null,
            manualTask.To == by
                ? []
                :
                [
                    Plain(
                        manualTask.To,
                        hostChange,
                        "cancelled",
                        directory.Now,
                        $"Cancelled: {site.Title}",
                        $"{directory.Find(by)?.Name} cancelled the task.{(reason is null ? "" : $" \"{reason}\"")}",
                        "Undo what you have already done, or tell them."
                    ),
                ]
        );

    /// <summary>Why somebody cannot verify it as the second person; null if they can.</summary>
    public static Remark? NoCheck(HostChange hostChange, ManualTask manualTask, PersonId by) =>
        hostChange.State != ChangeState.Confirmed ? new TaskNotDone()
        : manualTask.DoneBy == by ? new TaskDoneByViewer()
        : null;

    /// <summary>A second person verified it.</summary>
    public static ManualTaskStep Checked(HostChange hostChange, ManualTask manualTask, PersonId by, DateTimeOffset now) =>
        new(hostChange.Move(ChangeEvent.Verify) with { SeenAt = now }, manualTask with { CheckedBy = by }, null, []);

    /// <summary>A second person found it not done: the former state still applies, and the task is returned.</summary>
    public static ManualTaskStep NotSo(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PersonId by,
        string words,
        PeopleDirectory directory
    )
    {
        var now = directory.Now;
        var before = site with
        {
            Sharing = site.Sharing.Select(sharing =>
                sharing with
                {
                    Grants = sharing.Grants.With(hostChange.Before),
                    At = now,
                    Source = SharingSource.Confirmed,
                }
            ),
        };
        if (hostChange.WantedState.Existence is { } requested)
        {
            before = before with
            {
                Existence = requested == Existence.Attic ? Existence.InUse : Existence.Attic,
                Bin =
                    requested == Existence.Attic
                        ? null
                        : new Bin(now, null, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None),
                StandsAt = now,
            };
        }

        if (hostChange.Former is { } former)
        {
            before = (former.Look?.On(before) ?? before) with
            {
                Address = former.Address is { } address ? Known.Of(address) : before.Address,
                StandsAt = now,
            };
        }

        return Returned(
            hostChange.Move(ChangeEvent.Contradict),
            manualTask with
            {
                CheckedBy = by,
            },
            site,
            $"{directory.Find(by)?.Name ?? "Somebody"} looked: {words}",
            directory
        ) with
        {
            Site = before,
        };
    }

    /// <summary>A list shows that it is not done.</summary>
    /// <param name="contradicted">The change as the import left it.</param>
    /// <param name="seen">The site according to the list.</param>
    public static ManualTaskStep Disagrees(
        HostChange contradicted,
        ManualTask manualTask,
        SiteFacts seen,
        PeopleDirectory directory
    ) =>
        Returned(
            contradicted,
            manualTask,
            seen,
            $"The list as of {directory.Time.DayOf(seen.SeenAt).InWords()} reports something else: {Difference(contradicted.WantedState, seen, directory)}.",
            directory
        );

    /// <summary>The events of a task: its assignee leaves, its last day begins, its last day ends.</summary>
    public static IEnumerable<Due> DueOf(
        HostChange hostChange,
        ManualTask manualTask,
        PeopleDirectory directory,
        IReadOnlySet<(PersonId, string)> written
    )
    {
        if (hostChange.State != ChangeState.Sent)
        {
            yield break;
        }

        if (manualTask.To != hostChange.By && !directory.IsHere(manualTask.To) && directory.IsHere(hostChange.By))
        {
            yield return new Due.AssigneeLeft(directory.Now, hostChange, manualTask);
            yield break;
        }

        var near = directory.Time.StartOf(manualTask.Through);
        if (
            near > manualTask.GivenAt
            && directory.Now < hostChange.DueAt
            && directory.IsHere(manualTask.To)
            && !written.Contains((manualTask.To, NearKey(hostChange, manualTask)))
        )
        {
            yield return new Due.ManualTaskNear(near, hostChange, manualTask);
        }

        if (!written.Any(notification => notification.Item2 == OverdueKey(hostChange, manualTask)))
        {
            yield return new Due.ManualTaskOverdue(hostChange.DueAt, hostChange, manualTask);
        }
    }

    /// <summary>The assignee has left, so the person who requested it gets the task.</summary>
    public static Decision.Plan Left(HostChange hostChange, ManualTask manualTask, SiteFacts site, PeopleDirectory directory)
    {
        var step = Reassign(hostChange, manualTask, site, hostChange.By, manualTask.To, directory);
        return new Decision.Plan(
            [step.HostChange],
            [Entry(JournalAction.TaskReassigned, EntryActor.Product, step.HostChange, step.ManualTask)],
            Effect.None
        )
        {
            ManualTask = step.ManualTask,
            Notifications = [.. step.Notifications.Where(notification => notification.To == hostChange.By)],
        };
    }

    public static Decision.Plan Near(HostChange hostChange, ManualTask manualTask, SiteFacts site) =>
        NotifyOnly([
            To(
                manualTask.To,
                hostChange,
                manualTask,
                NearKey(hostChange, manualTask),
                $"Due today: {site.Title}",
                $"Your task at {site.Host} for {site.Title} is due at the end of today."
            ),
        ]);

    /// <summary>The assignee, the person who requested it and the administrators are notified.</summary>
    public static Decision.Plan Overdue(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        IReadOnlyList<PersonId> administrators,
        PeopleDirectory directory
    ) =>
        NotifyOnly([
            .. administrators
                .Append(hostChange.By)
                .Append(manualTask.To)
                .Distinct()
                .Select(person =>
                    To(
                        person,
                        hostChange,
                        manualTask,
                        OverdueKey(hostChange, manualTask),
                        $"Overdue: {site.Title}",
                        $"{(person == manualTask.To ? "You have" : $"{directory.Find(manualTask.To)?.Name} has")} a task at {site.Host} for {site.Title} that was due at the end of {manualTask.Through.InWords()}. It is neither reported done nor failed."
                    )
                ),
        ]) with
        {
            Entries = [Entry(JournalAction.TaskOverdue, EntryActor.Product, hostChange, manualTask)],
        };

    public static Draft Entry(JournalAction what, EntryActor actor, HostChange hostChange, ManualTask manualTask) =>
        new(what, actor, EntrySubject.Of(hostChange.Site))
        {
            OnBehalf = EntryActor.Of(hostChange.By),
            After = JournalValue.Of(
                ("change", JournalValue.Of(hostChange.Id.ToString())),
                ("to", JournalValue.Of(EntryActor.Of(manualTask.To))),
                ("through", JournalValue.Of(manualTask.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("report", JournalValue.Of(manualTask.Report)),
                ("message", JournalValue.Of(hostChange.Words))
            ),
        };

    /// <summary>The wanted result, one sentence for each part.</summary>
    public static IReadOnlyList<string> Wanted(HostChange hostChange, PeopleDirectory directory)
    {
        var before = hostChange.Before.ToDictionary(change => change.Key, change => change.Wanted);
        var sentences = hostChange
            .WantedState.Grants.Select(change =>
                change.Wanted is { } grant ? $"{GrantText.Who(grant, directory)} can {grant.Power.Word()}, but no more."
                : before.GetValueOrDefault(change.Key) is { } was
                    ? $"{GrantText.Who(was, directory)} can no longer {was.Power.Word()}."
                : $"{change.Key} gives nobody access."
            )
            .ToList();
        if (hostChange.WantedState.Existence is { } existence)
        {
            sentences.Add(
                existence == Existence.Attic
                    ? "The site is shut to visitors; nothing of it is deleted."
                    : "The site is open again to everyone with access."
            );
        }

        if (hostChange.WantedState.Address is { } address)
        {
            sentences.Add($"The site's address is {address}.");
        }

        if (hostChange.WantedState.Look is { } look)
        {
            sentences.AddRange(Presented(look));
        }

        return sentences;
    }

    /// <summary>The parts of a request that are not fulfilled, in words; "it" is the site.</summary>
    public static string Difference(WantedState wanted, SiteFacts seen, PeopleDirectory directory)
    {
        if (wanted.LeftIn(seen) is not { } left)
        {
            return "";
        }

        var grants = seen.Sharing.Has(out var sharing) ? sharing.Grants.ToDictionary(grant => grant.Key) : [];
        var words = left
            .Grants.Select(change =>
                (change.Wanted, Now: grants.GetValueOrDefault(change.Key)) switch
                {
                    (null, { } now) => $"{GrantText.Who(now, directory)} can still {now.Power.Word()}",
                    ({ } wanted, { } now) =>
                        $"{GrantText.Who(now, directory)} can {now.Power.Word()} instead of {wanted.Power.Word()}",
                    ({ } wanted, null) => $"{GrantText.Who(wanted, directory)} cannot {wanted.Power.Word()}",
                    _ => "",
                }
            )
            .Where(sentence => sentence.Length > 0)
            .ToList();
        if (left.Existence is { } existence)
        {
            words.Add(existence == Existence.Attic ? "it is still in use" : "it is still shut");
        }

        if (left.Address is { } address)
        {
            words.Add($"its address is not {address}");
        }

        if (left.Look is { } look)
        {
            words.AddRange(NotPresented(look, seen));
        }

        return string.Join("; ", words);
    }

    private static IEnumerable<string> Presented(WantedLook look)
    {
        if (look.Name is { } name)
        {
            yield return $"The site's name is \"{name}\".";
        }

        if (look.Description is { } description)
        {
            yield return description.Length == 0
                ? "The site has no description."
                : $"The site's description is \"{description}\".";
        }

        if (look.Logo is { } logo)
        {
            yield return logo.Source switch
            {
                null => "The site has no logo.",
                LogoSource.Linked => $"The site shows the logo at {logo.From}.",
                LogoSource.Borrowed => $"The site shows the logo of the site {logo.From}.",
                _ => "The site has the logo that is shown with this task.",
            };
        }
    }

    private static IEnumerable<string> NotPresented(WantedLook look, SiteFacts seen)
    {
        if (look.Name is { } name)
        {
            yield return $"its name is \"{seen.Name.Or("not reported")}\" and not \"{name}\"";
        }

        if (look.Description is not null)
        {
            yield return "its description is another";
        }

        if (look.Logo is not null)
        {
            yield return "its logo is another";
        }
    }

    // It is returned with as many days as it had at first.
    private static ManualTaskStep Returned(
        HostChange contradicted,
        ManualTask manualTask,
        SiteFacts site,
        string words,
        PeopleDirectory directory
    )
    {
        var days = Math.Max(1, manualTask.Through.DayNumber - directory.Time.DayOf(manualTask.GivenAt).DayNumber);
        var through = directory.Time.DayOf(directory.Now).Plus(days);
        var back = manualTask with { GivenAt = directory.Now, Through = through, Returned = manualTask.Returned + 1 };
        var hostChange = contradicted.Move(ChangeEvent.Return) with
        {
            ConfirmedAt = null,
            SeenAt = null,
            NextTry = Never,
            DueAt = directory.Time.EndOf(through),
            Words = words,
        };
        return new ManualTaskStep(
            hostChange,
            back,
            null,
            [
                To(
                    manualTask.To,
                    hostChange,
                    back,
                    $"task:{hostChange.Id}:back:{back.Returned}",
                    $"Returned to you: {site.Title}",
                    $"You reported it done. {words}",
                    urgent: true
                ),
            ]
        );
    }

    private static PersonId To(ManualProcedure how, PersonId asks, PeopleDirectory directory) =>
        how.Assignee is { } actor && directory.IsHere(actor) ? actor : asks;

    private static Notification Given(HostChange hostChange, ManualTask manualTask, SiteFacts site, string by) =>
        To(
            manualTask.To,
            hostChange,
            manualTask,
            $"task:{hostChange.Id}:to:{manualTask.To.Value}:{manualTask.GivenAt.UtcTicks}",
            $"Manual task at {site.Host}: {site.Title}",
            $"{by} requests a change that a person has to make at {site.Host}. It is due at the end of {manualTask.Through.InWords()}.",
            urgent: true
        );

    private static Notification To(
        PersonId to,
        HostChange hostChange,
        ManualTask manualTask,
        string key,
        string title,
        string sentence,
        bool urgent = false
    ) =>
        new(
            to,
            key,
            title,
            [sentence],
            urgent,
            new NotificationLink(
                LinkPurpose.ManualTask,
                hostChange.Id.ToString(),
                hostChange.DueAt.AddDays(ManualProcedure.MostDays),
                manualTask.To == to ? "Open the task" : "Open the task"
            )
        );

    private static Notification Plain(
        PersonId to,
        HostChange hostChange,
        string what,
        DateTimeOffset now,
        string title,
        params string[] sentences
    ) => new(to, $"task:{hostChange.Id}:{what}:{now.UtcTicks}", title, sentences, Urgent: true);

    private static Decision.Plan NotifyOnly(IReadOnlyList<Notification> notifications) =>
        new([], [], Effect.None) { Notifications = notifications };

    private static string NearKey(HostChange hostChange, ManualTask manualTask) =>
        $"task:{hostChange.Id}:near:{manualTask.Through.DayNumber}";

    private static string OverdueKey(HostChange hostChange, ManualTask manualTask) =>
        $"task:{hostChange.Id}:overdue:{manualTask.Through.DayNumber}";
}
