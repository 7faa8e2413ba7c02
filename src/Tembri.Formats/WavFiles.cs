using NAudio.Wave;
using Tembri.Core.Hearing;

namespace Tembri.Formats;

/// <summary>Reads sound files in the wave format (RIFF): whole numbers of 8 to 32 bits or floating point, any rate, any number
/// of channels.</summary>
public static class WavFiles
{
    private const int MostChannels = 8;

    /// <summary>Reads a file; its channels become their mean.</summary>
    /// <param name="file">The file; it must be able to seek.</param>
    /// <param name="cancel">Ends the work.</param>
    /// <exception cref="FormatException">It is no such file; the message says what to do.</exception>
    /// <exception cref="HearingRefusedException">It is too long or too short, or has a rate or a number of channels that is not
    /// listened to.</exception>
    public static MonoSound Read(Stream file, CancellationToken cancel = default)
    {
        try
        {
            using var reader = new WaveFileReader(new Unclosed(file));
            var format = reader.WaveFormat;
            if (format.Channels is < 1 or > MostChannels)
                throw new HearingRefusedException(
                    $"A recording has 1 to {MostChannels} channels; this one has {format.Channels}.");
            var provider = reader.ToSampleProvider();
            var frames = reader.SampleCount;
            if (Ear.Objection(format.SampleRate > 0 ? (double)frames / format.SampleRate : 0,
                format.SampleRate) is { } objection)
                throw new HearingRefusedException(objection);
            var samples = new float[frames];
            var block = new float[16_384 * format.Channels];
            var at = 0;
            while (at < samples.Length && provider.Read(block) is > 0 and var read)
            {
                cancel.ThrowIfCancellationRequested();
                for (var i = 0; i + format.Channels <= read && at < samples.Length; i += format.Channels)
                {
                    var sum = 0f;
                    for (var c = 0; c < format.Channels; c++) sum += block[i + c];
                    samples[at++] = sum / format.Channels;
                }
            }
            return new MonoSound(at == samples.Length ? samples : samples[..at], format.SampleRate);
        }
        catch (Exception e) when (e is ArgumentException or FormatException or InvalidOperationException or InvalidDataException
            or EndOfStreamException or NotSupportedException or IndexOutOfRangeException or OverflowException)
        {
            throw new FormatException(
                "This is no wave file that can be read. Export the recording as wav, 16 bits, and send it again.");
        }
    }

    /// <summary>Leaves closing to whoever opened.</summary>
    private sealed class Unclosed(Stream inner) : Stream
    {
        public override bool CanRead => inner.CanRead;
        public override bool CanSeek => inner.CanSeek;
        public override bool CanWrite => false;
        public override long Length => inner.Length;
        public override long Position { get => inner.Position; set => inner.Position = value; }
        public override void Flush() { }
        public override int Read(byte[] buffer, int offset, int count) => inner.Read(buffer, offset, count);
        public override int Read(Span<byte> buffer) => inner.Read(buffer);
        public override long Seek(long offset, SeekOrigin origin) => inner.Seek(offset, origin);
        public override void SetLength(long value) => throw new NotSupportedException();
        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
