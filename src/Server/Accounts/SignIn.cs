using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Journal;
using AtticLedger.Store;
using Microsoft.AspNetCore.Identity;

namespace AtticLedger.Server.Accounts;

/// <summary>What a try to sign in came to. An unknown address and a wrong password look, and take, the same.</summary>
public abstract record SignInResult
{
    public sealed record In(string SessionId, DateTimeOffset Expires) : SignInResult;

    public sealed record Wrong : SignInResult;

    public sealed record Throttled(TimeSpan After) : SignInResult;
}

/// <summary>Signs in and out. Failures are counted per address and per caller, in the database, so that all servers count together.</summary>
public sealed class SignIn(Database database)
{
    public const int MostFailures = 5;
    public static readonly TimeSpan FailureWindow = TimeSpan.FromMinutes(5);
    public static readonly TimeSpan SessionTime = TimeSpan.FromHours(12);
    private const int MostFailuresOfCaller = 100;
    private const int LongestMail = 320;
    private const int LongestPassword = 1000;
    private static readonly PasswordHasher<object> Hasher = new();

    // Verified where there is no account, so that the time tells nothing.
    private static readonly string NobodysHash = Hasher.HashPassword(new object(), "nobody's password");

    public static string Hash(string password) => Hasher.HashPassword(new object(), password);

    public async Task<SignInResult> Try(string mail, string password, string caller, string agent)
    {
        var mailKey = KeyHash("mail", mail.Trim().ToLowerInvariant());
        var callerKey = KeyHash("caller", caller);
        var since = database.Now - FailureWindow;
        var (account, ofMail, ofCaller) = await database.Read(async connection => (
            IsPossible(mail, LongestMail) ? await connection.AccountByMail(mail.Trim()) : null,
            await connection.FailuresSince(mailKey, since),
            await connection.FailuresSince(callerKey, since)));
        if (ofMail >= MostFailures || ofCaller >= MostFailuresOfCaller)
        {
            return new SignInResult.Throttled(FailureWindow);
        }

        if (!IsPossible(mail, LongestMail) || !IsPossible(password, LongestPassword))
        {
            account = null;
            password = "";
        }

        var fits = Hasher.VerifyHashedPassword(new object(), account?.PasswordHash ?? NobodysHash, password) != PasswordVerificationResult.Failed;
        if (account?.PasswordHash is null || !fits)
        {
            await database.Change(async change =>
            {
                await change.AddFailure(mailKey, toGather: true);
                await change.AddFailure(callerKey, toGather: false);
            });
            return new SignInResult.Wrong();
        }

        var id = Convert.ToBase64String(RandomNumberGenerator.GetBytes(32));
        return await database.Change<SignInResult>(async change =>
        {
            var session = new SessionRow(Guid.NewGuid(), account.Id, change.Now, change.Now + SessionTime, agent.Length > 200 ? agent[..200] : agent);
            await change.AddSession(SessionHandler.HashOf(id), session);
            await change.ForgetFailures(mailKey);
            await change.Append([new Draft("session.began", $"person:{account.Person.Value}", $"account:{account.Id}") { After = JournalValue.Of(("session", JournalValue.Of(session.PublicId.ToString()))) }]);
            return new SignInResult.In(id, session.Expires);
        });
    }

    /// <summary>Whether this caller has failed too often of late.</summary>
    public async Task<bool> IsThrottled(string caller) =>
        await database.Read(connection => connection.FailuresSince(KeyHash("caller", caller), database.Now - FailureWindow)) >= MostFailuresOfCaller;

    /// <summary>Counts an anonymous attempt that failed; the journal gathers them by the minute.</summary>
    public Task Failed(string caller) => database.Change(change => change.AddFailure(KeyHash("caller", caller), toGather: true));

    /// <summary>Somebody who is signed in says again who they are. Failures count as those of signing in do.</summary>
    public async Task<bool> Confirms(Viewer viewer, string password)
    {
        var key = KeyHash("confirm", viewer.InJournal);
        var (account, failures) = await database.Read(async connection => (await connection.AccountOf(viewer.Person), await connection.FailuresSince(key, database.Now - FailureWindow)));
        if (failures < MostFailures && IsPossible(password, LongestPassword) && account?.PasswordHash is { } hash
            && Hasher.VerifyHashedPassword(new object(), hash, password) != PasswordVerificationResult.Failed)
        {
            return true;
        }

        await database.Change(async change =>
        {
            await change.AddFailure(key, toGather: false);
            await change.Append([new Draft("refused", viewer.InJournal, $"account:{viewer.Account}") { Reason = "the password did not confirm who it is" }]);
        });
        return false;
    }

    /// <summary>Ends a session of an account; false where there is none.</summary>
    public Task<bool> Revoke(long account, Guid session, Viewer by) =>
        database.Change(async change =>
        {
            var ended = await change.Revoke(account, session);
            if (ended)
            {
                await change.Append([new Draft("session.revoked", by.InJournal, $"account:{account}") { Before = JournalValue.Of(("session", JournalValue.Of(session.ToString()))) }]);
            }

            return ended;
        });

    // NUL cannot stand in a text of the database.
    private static bool IsPossible(string text, int longest) => text.Length <= longest && !text.Contains('\0', StringComparison.Ordinal);

    private static byte[] KeyHash(string kind, string key) => SHA256.HashData(Encoding.UTF8.GetBytes($"{kind}:{key}"));
}
