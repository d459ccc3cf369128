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
        if (account is null || !fits)
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
