using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Guessing gets slower and slower, and nobody is locked out by somebody else's guesses.</summary>
public sealed class ThrottleFacts(Installation installation) : OwnServer(installation)
{
    [Fact]
    public async Task Tries_are_counted_one_after_the_other_however_many_come_at_once()
    {
        var (key, now) = (SHA256.HashData("a mail"u8), Database.Now);
        var waits = await Task.WhenAll(
            Enumerable
                .Range(0, 40)
                .Select(i =>
                    Database.Atomically(connection =>
                        connection.CountTry([(key, 5)], now.AddTicks(10 * i), SignIn.LongestPause, TimeSpan.FromHours(1))
                    )
                )
        );
        Assert.InRange(waits.Count(wait => wait is null), 5, 7);
    }

    [Fact]
    public async Task Pauses_double_to_a_quarter_of_an_hour_and_are_forgotten_after_an_hour()
    {
        var (key, now) = (SHA256.HashData("another mail"u8), Database.Now);
        Task<TimeSpan?> Count() =>
            Database.Atomically(connection => connection.CountTry([(key, 5)], now, SignIn.LongestPause, TimeSpan.FromHours(1)));
        for (var free = 0; free < 5; free++)
        {
            Assert.Null(await Count());
            now = now.AddMilliseconds(1);
        }

        foreach (var pause in new[] { 1, 3, 7, 15, 31, 63, 127, 255, 511, 900, 900 })
        {
            Assert.Null(await Count());
            now = now.AddMilliseconds(1);
            var wait = (await Count())!.Value;
            Assert.Equal(pause, Math.Round(wait.TotalSeconds));
            now += wait;
        }

        now = now.AddHours(2);
        Assert.Null(await Count());
        now = now.AddMilliseconds(1);
        Assert.Null(await Count());
    }

    [Fact]
    public async Task A_browser_that_signed_in_before_is_not_shut_out_by_strangers()
    {
        var vane = await here.SignIn("i.vane", address);
        using var stranger = Anyone();
        HttpStatusCode last;
        do
        {
            last = (await Try(stranger, "i.vane", "a guess")).StatusCode;
        } while (last == HttpStatusCode.Unauthorized);

        Assert.Equal(HttpStatusCode.TooManyRequests, last);
        Assert.Equal(HttpStatusCode.NoContent, (await Try(vane.Http, "i.vane", Installation.Password)).StatusCode);
    }

    [Fact]
    public async Task One_account_of_ones_own_does_not_pay_for_guessing_at_others()
    {
        using var guesser = Anyone();
        for (var guess = 0; guess < SignIn.FreeOfCaller; guess++)
        {
            Assert.Equal(HttpStatusCode.Unauthorized, (await Try(guesser, $"nobody-{guess}", "a guess")).StatusCode);
        }

        using var own = Anyone();
        Assert.Equal(HttpStatusCode.NoContent, (await Try(own, "i.vane", Installation.Password)).StatusCode);
        Assert.InRange((await TriesUntilThrottled(guess => Try(guesser, $"nobody-more-{guess}", "a guess")))!.Value, 1, Few);
    }

    [Fact]
    public async Task An_office_behind_one_address_signs_in_at_seven()
    {
        for (var person = 0; person < SignIn.FreeOfCaller + 10; person++)
        {
            using var desk = Anyone();
            Assert.Equal(
                HttpStatusCode.NoContent,
                (await Try(desk, person % 2 == 0 ? "i.vane" : "h.nair", Installation.Password)).StatusCode
            );
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Only_a_proxy_that_is_configured_is_believed_about_where_somebody_comes_from(bool isConfigured)
    {
        var (behind, at) = await here.Start(
            null,
            null,
            await Databases.Migrated(),
            proxies: isConfigured ? [IPAddress.Loopback, IPAddress.IPv6Loopback] : null
        );
        var tries = await TriesUntilThrottled(async guess =>
        {
            using var anyone = new HttpClient
            {
                BaseAddress = at,
                DefaultRequestHeaders = { { "X-Attic-Ledger", "1" }, { "X-Forwarded-For", $"192.0.2.{guess}" } },
            };
            return await Try(anyone, $"nobody-{guess}", "a guess");
        });
        if (isConfigured)
        {
            Assert.Null(tries);
        }
        else
        {
            Assert.InRange(tries!.Value, SignIn.FreeOfCaller, SignIn.FreeOfCaller + Few);
        }

        await here.Leave(behind);
    }

    // A pause of a second may be over before a slow machine tries again; the pauses grow, so one of the next tries meets one.
    private const int Few = 10;

    /// <summary>How many tries were not throttled; null if none of many was.</summary>
    private static async Task<int?> TriesUntilThrottled(Func<int, Task<HttpResponseMessage>> tryOnce)
    {
        for (var guess = 0; guess <= SignIn.FreeOfCaller + Few; guess++)
        {
            var status = (await tryOnce(guess)).StatusCode;
            if (status == HttpStatusCode.TooManyRequests)
            {
                return guess;
            }

            Assert.Equal(HttpStatusCode.Unauthorized, status);
        }

        return null;
    }

    private HttpClient Anyone() => new() { BaseAddress = address, DefaultRequestHeaders = { { "X-Attic-Ledger", "1" } } };

    private static Task<HttpResponseMessage> Try(HttpClient with, string who, string password) =>
        with.PostAsJsonAsync("/api/session", new { mail = $"{who}@merrowby.example", password });
}
