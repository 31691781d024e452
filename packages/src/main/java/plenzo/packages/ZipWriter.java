package plenzo.packages;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.CRC32;

/**
 * Writes entries one after the other, stored as they are: what a compressor makes differs from one
 * release of its library to the next, and the same version must give the same file. One thread.
 */
final class ZipWriter implements AutoCloseable {
  private final FileChannel out;
  private final List<Written> entries = new ArrayList<>();
  private final byte[] buffer = new byte[1 << 18];

  private record Written(byte[] name, long offset, long size, long crc) {}

  /**
   * @param file must not exist
   */
  ZipWriter(Path file) throws IOException {
    out = FileChannel.open(file, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
  }

  private static ByteBuffer buffer(int length) {
    return ByteBuffer.allocate(length).order(ByteOrder.LITTLE_ENDIAN);
  }

  private void write(ByteBuffer bytes) throws IOException {
    while (bytes.hasRemaining()) {
      out.write(bytes);
    }
  }

  /** What writes the bytes of an entry. */
  interface Content {
    void writeTo(OutputStream out) throws IOException;
  }

  /**
   * Adds one entry; closing the stream is the caller's.
   *
   * @param size how many bytes the stream has
   * @throws IOException when it has more or fewer
   */
  void add(String name, long size, InputStream content) throws IOException {
    add(
        name,
        size,
        out -> {
          for (int n = content.read(buffer); n >= 0; n = content.read(buffer)) {
            out.write(buffer, 0, n);
          }
        });
  }

  /** Adds one entry of {@code size} bytes. */
  void add(String name, long size, Content content) throws IOException {
    byte[] utf8 = name.getBytes(StandardCharsets.UTF_8);
    long offset = out.position();
    write(local(utf8, size, 0));
    Entry entry = new Entry();
    content.writeTo(entry);
    if (entry.written != size) {
      throw new IOException(name + " has " + entry.written + " bytes instead of " + size);
    }
    long end = out.position();
    out.position(offset);
    write(local(utf8, size, entry.crc.getValue()));
    out.position(end);
    entries.add(new Written(utf8, offset, size, entry.crc.getValue()));
  }

  /** Counts what goes into the file. */
  private final class Entry extends OutputStream {
    private final CRC32 crc = new CRC32();
    private long written;

    @Override
    public void write(int b) throws IOException {
      write(new byte[] {(byte) b}, 0, 1);
    }

    @Override
    public void write(byte[] from, int at, int count) throws IOException {
      crc.update(from, at, count);
      ZipWriter.this.write(ByteBuffer.wrap(from, at, count));
      written += count;
    }
  }

  private static ByteBuffer local(byte[] name, long size, long crc) {
    boolean large = size >= Zip.IN_64;
    ByteBuffer b = buffer(Zip.LOCAL_LENGTH + name.length + (large ? 20 : 0));
    b.putInt(Zip.LOCAL).putShort((short) Zip.VERSION).putShort((short) Zip.FLAGS);
    b.putShort((short) Zip.STORED).putShort((short) Zip.TIME).putShort((short) Zip.DATE);
    b.putInt((int) crc);
    b.putInt((int) (large ? Zip.IN_64 : size)).putInt((int) (large ? Zip.IN_64 : size));
    b.putShort((short) name.length).putShort((short) (large ? 20 : 0)).put(name);
    if (large) {
      b.putShort((short) Zip.EXTRA64).putShort((short) 16).putLong(size).putLong(size);
    }
    return b.flip();
  }

  private static ByteBuffer central(Written e) {
    boolean large = e.size() >= Zip.IN_64;
    boolean far = e.offset() >= Zip.IN_64;
    int fields = (large ? 16 : 0) + (far ? 8 : 0);
    int extra = fields == 0 ? 0 : 4 + fields;
    ByteBuffer b = buffer(Zip.CENTRAL_LENGTH + e.name().length + extra);
    b.putInt(Zip.CENTRAL).putShort((short) Zip.VERSION).putShort((short) Zip.VERSION);
    b.putShort((short) Zip.FLAGS).putShort((short) Zip.STORED);
    b.putShort((short) Zip.TIME).putShort((short) Zip.DATE).putInt((int) e.crc());
    b.putInt((int) (large ? Zip.IN_64 : e.size())).putInt((int) (large ? Zip.IN_64 : e.size()));
    b.putShort((short) e.name().length).putShort((short) extra);
    b.putShort((short) 0).putShort((short) 0).putShort((short) 0).putInt(0);
    b.putInt((int) (far ? Zip.IN_64 : e.offset())).put(e.name());
    if (fields > 0) {
      b.putShort((short) Zip.EXTRA64).putShort((short) fields);
      if (large) {
        b.putLong(e.size()).putLong(e.size());
      }
      if (far) {
        b.putLong(e.offset());
      }
    }
    return b.flip();
  }

  /** Writes the directory and flushes everything to the disk. */
  void finish() throws IOException {
    long start = out.position();
    for (Written e : entries) {
      write(central(e));
    }
    long size = out.position() - start;
    boolean large = start >= Zip.IN_64 || size >= Zip.IN_64 || entries.size() >= 0xffff;
    if (large) {
      long at = out.position();
      ByteBuffer b = buffer(Zip.END64_LENGTH + Zip.LOCATOR64_LENGTH);
      b.putInt(Zip.END64).putLong(Zip.END64_LENGTH - 12L);
      b.putShort((short) Zip.VERSION).putShort((short) Zip.VERSION).putInt(0).putInt(0);
      b.putLong(entries.size()).putLong(entries.size()).putLong(size).putLong(start);
      b.putInt(Zip.LOCATOR64).putInt(0).putLong(at).putInt(1);
      write(b.flip());
    }
    ByteBuffer b = buffer(Zip.END_LENGTH);
    short count = (short) (large ? 0xffff : entries.size());
    b.putInt(Zip.END).putShort((short) 0).putShort((short) 0).putShort(count).putShort(count);
    b.putInt((int) (large ? Zip.IN_64 : size)).putInt((int) (large ? Zip.IN_64 : start));
    b.putShort((short) 0);
    write(b.flip());
    out.force(true);
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
