using System.Net;
using System.Net.Sockets;

namespace AtticLedger.Server.Tests;

/// <summary>A connection to the database that can be interrupted and restored.</summary>
internal sealed class Relay : IAsyncDisposable
{
    private readonly IPEndPoint to;
    private readonly List<TcpClient> open = [];
    private TcpListener? listener;

    public Relay(string host, int port)
    {
        to = new IPEndPoint(IPAddress.Parse(host), port);
        Port = Installation.FreePort();
    }

    public int Port { get; }

    public void Mend()
    {
        var listening = new TcpListener(IPAddress.Loopback, Port);
        listening.Start();
        listener = listening;
        _ = Serve(listening);
    }

    public void Cut()
    {
        listener?.Dispose();
        listener = null;
        lock (open)
        {
            open.ForEach(client => client.Dispose());
            open.Clear();
        }
    }

    public ValueTask DisposeAsync()
    {
        Cut();
        return ValueTask.CompletedTask;
    }

    private async Task Serve(TcpListener listening)
    {
        try
        {
            while (true)
            {
                var near = await listening.AcceptTcpClientAsync();
                var far = new TcpClient();
                lock (open)
                {
                    open.AddRange([near, far]);
                }

                await far.ConnectAsync(to);
                _ = Carry(near, far);
                _ = Carry(far, near);
            }
        }
        catch (Exception cut) when (cut is SocketException or ObjectDisposedException or InvalidOperationException)
        {
            // The connection was interrupted.
        }
    }

    private static async Task Carry(TcpClient from, TcpClient into)
    {
        try
        {
            await from.GetStream().CopyToAsync(into.GetStream());
        }
        catch (Exception cut) when (cut is IOException or ObjectDisposedException or InvalidOperationException)
        {
            // The connection was interrupted.
        }

        from.Dispose();
        into.Dispose();
    }
}
