using AtticLedger.Core.Actions;
using AtticLedger.Server.Execution;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Every endpoint that may change something goes the one way of an action, or is named here with the reason why
/// not.</summary>
public class WritingEndpoints(Installation here)
{
    private static readonly string[] Outside =
    [
        "changePassword",
        "choosePassword",
        "countView",
        "mailPassword",
        "makeCalendarLink",
        "openLink",
        "signIn",
        "signOut",
    ];

    private List<(string Name, Writes Writes)> Endpoints =>
        [
            .. here
                .Server.Services.GetRequiredService<EndpointDataSource>()
                .Endpoints.OfType<RouteEndpoint>()
                .Where(endpoint =>
                    endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Any(method => method is not "GET") == true
                )
                .Select(endpoint =>
                    (
                        endpoint.Metadata.GetMetadata<EndpointNameMetadata>()!.EndpointName,
                        endpoint.Metadata.GetMetadata<Writes>()
                            ?? throw new InvalidOperationException(
                                $"{endpoint.DisplayName} says neither which action it is nor why not."
                            )
                    )
                ),
        ];

    [Fact]
    public void Each_is_an_action_a_preview_or_named_with_its_reason() =>
        Assert.Equal(
            Outside,
            Endpoints
                .Where(endpoint => endpoint.Writes.Outside is { } why && why != "a preview")
                .Select(endpoint => endpoint.Name)
                .Order(StringComparer.Ordinal)
        );

    // The remedies of a cause are carried out by a batch, whose sites have actions of their own.
    [Fact]
    public void Every_action_has_exactly_one() =>
        Assert.Equal(
            Enum.GetValues<ActionName>().Where(name => name != ActionName.FindingsRemedy),
            Endpoints.Select(endpoint => endpoint.Writes.Action).OfType<ActionName>().Order()
        );

    [Fact]
    public async Task None_is_carried_out_without_a_key()
    {
        var bell = await here.SignIn("n.bell");
        var (status, body) = await bell.Send(HttpMethod.Post, "/api/sources/Slipway/sync", key: "");
        Assert.Equal(System.Net.HttpStatusCode.BadRequest, status);
        Assert.Contains("Idempotency-Key", body.GetProperty("title").GetString());
    }

    [Fact]
    public async Task Pressing_again_after_a_lost_answer_is_the_same_and_another_request_with_the_key_is_refused()
    {
        var (bell, key) = (await here.SignIn("n.bell"), Guid.NewGuid().ToString());
        var view = new
        {
            name = "Pressed twice",
            isShared = false,
            view = new { sentence = new { } },
        };
        var first = await bell.Send(HttpMethod.Post, "/api/views", view, key);
        var second = await bell.Send(HttpMethod.Post, "/api/views", view, key);
        Assert.Equal(System.Net.HttpStatusCode.OK, first.Status);
        Assert.Equal(first.Body.ToString(), second.Body.ToString());
        var id = first.Body.GetProperty("id").GetInt64();
        var other = await bell.Send(HttpMethod.Delete, $"/api/views/{id}", null, key);
        Assert.Equal(System.Net.HttpStatusCode.UnprocessableEntity, other.Status);
        Assert.Equal(System.Net.HttpStatusCode.OK, (await bell.Send(HttpMethod.Delete, $"/api/views/{id}")).Status);
    }
}
