using System.Security.Cryptography;
using AtticLedger.Store;
using SkiaSharp;

namespace AtticLedger.Server.Looks;

/// <summary>Reads a picture from outside and encodes it again, so that nothing but its pixels is kept.</summary>
internal static class PictureCodec
{
    public const int MostBytes = 2 * 1024 * 1024;
    public const string TooLarge = "The picture has more than 2 MB. Use a smaller one.";

    private const int MostSide = 6000;
    private const long MostPixels = 16_000_000;

    /// <summary>The greatest side of what is kept.</summary>
    private const int KeptSide = 256;

    private static readonly SKEncodedImageFormat[] Known =
    [
        SKEncodedImageFormat.Png,
        SKEncodedImageFormat.Jpeg,
        SKEncodedImageFormat.Gif,
        SKEncodedImageFormat.Webp,
    ];

    /// <returns>The picture, or the sentence why it cannot be used.</returns>
    public static (LogoPicture? Picture, string? Fault) Read(byte[] bytes)
    {
        if (bytes.Length > MostBytes)
        {
            return (null, TooLarge);
        }

        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null || !Known.Contains(codec.EncodedFormat))
        {
            return (
                null,
                LooksLikeMarkup(bytes)
                    ? "SVG pictures and web pages can contain scripts, so they are not taken. Save it as PNG."
                    : "This is no picture of a kind that is taken: PNG, JPEG, GIF or WebP."
            );
        }

        // What a picture claims is checked before any of its pixels are decoded.
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if (width is < 1 or > MostSide || height is < 1 or > MostSide || (long)width * height > MostPixels)
        {
            return (null, $"The picture claims {width} × {height} pixels. Use one of at most {MostSide} a side.");
        }

        using var whole = new SKBitmap(new SKImageInfo(width, height, SKColorType.Rgba8888, SKAlphaType.Premul));
        if (codec.GetPixels(whole.Info, whole.GetPixels()) is not (SKCodecResult.Success or SKCodecResult.IncompleteInput))
        {
            return (null, "The picture is damaged and cannot be read.");
        }

        var scale = Math.Min(1.0, (double)KeptSide / Math.Max(width, height));
        var size = new SKSizeI(Math.Max(1, (int)Math.Round(width * scale)), Math.Max(1, (int)Math.Round(height * scale)));
        using var kept = scale < 1 ? whole.Resize(size, new SKSamplingOptions(SKCubicResampler.Mitchell)) : whole.Copy();
        using var png = kept.Encode(SKEncodedImageFormat.Png, 100);
        var encoded = png.ToArray();
        return (new LogoPicture(Convert.ToHexStringLower(SHA256.HashData(encoded)), encoded, size.Width, size.Height), null);
    }

    private static bool LooksLikeMarkup(byte[] bytes) =>
        bytes.AsSpan(0, Math.Min(bytes.Length, 512)).IndexOf((byte)'<') is >= 0 and < 64;
}
