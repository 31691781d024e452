package plenzo.packages;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.zip.CRC32;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;
import plenzo.core.item.FilePath;

/**
 * Reads a ZIP file and believes nothing: the directory, the local headers and the bytes between
 * them must say the same, without a gap, an overlap or a byte too many. One thread.
 */
final class ZipReader implements AutoCloseable {
  /** Entries in one file: a million (guess: ten times the largest tree that is promised). */
  private static final int MOST = 1_000_000;

  /** Bytes of the directory: 300 MiB (a million entries of 300 bytes). */
  private static final long LONGEST_DIRECTORY = 300L << 20;

  /** Bytes of a name. */
  private static final int LONGEST_NAME = 400;

  private final FileChannel in;
  private final long length;
  private final Map<String, Entry> entries = new LinkedHashMap<>();

  /**
   * One entry as the directory and its local header agree.
   *
   * @param start of its bytes in the file
   */
  record Entry(String name, int method, long crc, long packed, long size, long start) {}

  /**
   * @throws PackageRefused when the file is no ZIP file of the strict sort
   */
  ZipReader(Path file, long longest) throws IOException {
    in = FileChannel.open(file, StandardOpenOption.READ);
    length = in.size();
    try {
      if (length > longest) {
        throw new PackageRefused(
            "The file has " + length + " bytes; at most " + longest + " are taken.");
      }
      directory();
    } catch (RuntimeException | IOException e) {
      in.close();
      throw e;
    }
  }

  Map<String, Entry> entries() {
    return entries;
  }

  private ByteBuffer at(long position, int count) throws IOException {
    if (position < 0 || count < 0 || position + count > length) {
      throw new PackageRefused("The file is cut off.");
    }
    ByteBuffer b = ByteBuffer.allocate(count).order(ByteOrder.LITTLE_ENDIAN);
    while (b.hasRemaining()) {
      if (in.read(b, position + b.position()) < 0) {
        throw new PackageRefused("The file is cut off.");
      }
    }
    return b.flip();
  }

  private static long u32(ByteBuffer b) {
    return b.getInt() & 0xffffffffL;
  }

  private static int u16(ByteBuffer b) {
    return b.getShort() & 0xffff;
  }

  private static void require(boolean holds, String otherwise) {
    if (!holds) {
      throw new PackageRefused(otherwise);
    }
  }

  private void directory() throws IOException {
    require(length >= Zip.END_LENGTH, "The file is too short for a package.");
    long endAt = length - Zip.END_LENGTH;
    ByteBuffer end = at(endAt, Zip.END_LENGTH);
    require(
        end.getInt() == Zip.END, "The file is no package, is cut off, or has bytes after its end.");
    require(u16(end) == 0 && u16(end) == 0, "The package is split over several files.");
    long here = u16(end);
    long count = u16(end);
    long size = u32(end);
    long start = u32(end);
    require(u16(end) == 0, "The package has a comment.");
    require(here == count, "The package is split over several files.");
    long directoryEnd = endAt;
    if (count == 0xffff || size == Zip.IN_64 || start == Zip.IN_64) {
      require(
          count == 0xffff && size == Zip.IN_64 && start == Zip.IN_64,
          "The end of the package contradicts itself.");
      long locatorAt = endAt - Zip.LOCATOR64_LENGTH;
      ByteBuffer locator = at(locatorAt, Zip.LOCATOR64_LENGTH);
      require(locator.getInt() == Zip.LOCATOR64, "The end of the package contradicts itself.");
      require(u32(locator) == 0, "The package is split over several files.");
      long end64At = locator.getLong();
      require(u32(locator) == 1, "The package is split over several files.");
      require(
          end64At == locatorAt - Zip.END64_LENGTH, "There are bytes between the parts of the end.");
      ByteBuffer end64 = at(end64At, Zip.END64_LENGTH);
      require(
          end64.getInt() == Zip.END64
              && end64.getLong() == Zip.END64_LENGTH - 12
              && u16(end64) == Zip.VERSION
              && u16(end64) == Zip.VERSION
              && u32(end64) == 0
              && u32(end64) == 0,
          "The end of the package contradicts itself.");
      here = end64.getLong();
      count = end64.getLong();
      require(here == count, "The package is split over several files.");
      size = end64.getLong();
      start = end64.getLong();
      require(
          count >= 0xffff || size >= Zip.IN_64 || start >= Zip.IN_64,
          "The end of the package uses a large form for small sizes.");
      directoryEnd = end64At;
    }
    require(count > 0, "The package is empty.");
    require(
        count <= MOST, "The package has " + count + " entries; at most " + MOST + " are taken.");
    require(
        start >= 0 && size >= 0 && size <= LONGEST_DIRECTORY && start + size == directoryEnd,
        "The directory of the package does not lie right before its end.");
    read(start, directoryEnd, count);
  }

  private void read(long start, long directoryEnd, long count) throws IOException {
    ByteBuffer all = at(start, Math.toIntExact(directoryEnd - start));
    Set<String> folded = new HashSet<>();
    long next = 0;
    for (long n = 0; n < count; n++) {
      require(all.remaining() >= Zip.CENTRAL_LENGTH, "The directory of the package is cut off.");
      Found found = central(all);
      String name = found.entry.name();
      require(!entries.containsKey(name), "The package has two entries named \"" + name + "\".");
      require(
          folded.add(name.toLowerCase(Locale.ROOT)),
          "Two entries differ in upper and lower case only: \"" + name + "\".");
      require(
          found.offset == next, "There is a gap or an overlap before the entry \"" + name + "\".");
      Entry entry = local(found);
      next = entry.start() + entry.packed();
      entries.put(name, entry);
    }
    require(!all.hasRemaining(), "The directory of the package has bytes too many.");
    require(next == start, "There are bytes between the last entry and the directory.");
  }

  /** What the directory says of an entry, and where it says that it begins. */
  private record Found(Entry entry, long offset, byte[] name) {}

  private static Found central(ByteBuffer b) {
    require(b.getInt() == Zip.CENTRAL, "The directory of the package is damaged.");
    int made = u16(b);
    int needs = u16(b);
    int flags = u16(b);
    int method = u16(b);
    int time = u16(b);
    int date = u16(b);
    long crc = u32(b);
    long packed = u32(b);
    long size = u32(b);
    int nameLength = u16(b);
    int extraLength = u16(b);
    int commentLength = u16(b);
    int disk = u16(b);
    int internal = u16(b);
    long external = u32(b);
    long offset = u32(b);
    require(
        nameLength > 0 && nameLength <= LONGEST_NAME && extraLength <= 28,
        "An entry has a name or fields that are too long.");
    require(b.remaining() >= nameLength + extraLength, "The directory of the package is cut off.");
    byte[] raw = new byte[nameLength];
    b.get(raw);
    String name = name(raw);
    require((flags & 1) == 0, "The entry \"" + name + "\" is encrypted.");
    require(
        flags == Zip.FLAGS, "The entry \"" + name + "\" uses a form that packages do not have.");
    require(
        method == Zip.STORED || method == Zip.DEFLATED,
        "The entry \"" + name + "\" is packed by an unknown method.");
    int type = (int) (external >>> 28) & 0xf; // upper half: POSIX mode; 0xa is a link
    require(type != 0xa, "The entry \"" + name + "\" is a link.");
    require(
        made == Zip.VERSION
            && needs == Zip.VERSION
            && time == Zip.TIME
            && date == Zip.DATE
            && commentLength == 0
            && disk == 0
            && internal == 0
            && external == 0,
        "The entry \"" + name + "\" has facts that packages do not have.");
    ByteBuffer extra = b.slice(b.position(), extraLength).order(ByteOrder.LITTLE_ENDIAN);
    b.position(b.position() + extraLength);
    boolean large = packed == Zip.IN_64 || size == Zip.IN_64;
    boolean far = offset == Zip.IN_64;
    require(
        !large || (packed == Zip.IN_64 && size == Zip.IN_64),
        "The sizes of \"" + name + "\" contradict each other.");
    if (large || far) {
      int fields = (large ? 16 : 0) + (far ? 8 : 0);
      require(
          extraLength == 4 + fields && u16(extra) == Zip.EXTRA64 && u16(extra) == fields,
          "The sizes of \"" + name + "\" contradict each other.");
      if (large) {
        size = extra.getLong();
        packed = extra.getLong();
        require(
            size >= Zip.IN_64 || packed >= Zip.IN_64,
            "The sizes of \"" + name + "\" contradict each other.");
      }
      if (far) {
        offset = extra.getLong();
        require(offset >= Zip.IN_64, "The place of \"" + name + "\" contradicts itself.");
      }
    } else {
      require(extraLength == 0, "The entry \"" + name + "\" has fields that packages do not have.");
    }
    require(
        size >= 0 && packed >= 0 && offset >= 0 && (method == Zip.DEFLATED || size == packed),
        "The sizes of \"" + name + "\" contradict each other.");
    return new Found(new Entry(name, method, crc, packed, size, 0), offset, raw);
  }

  private static String name(byte[] raw) {
    String name;
    try {
      name = StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(raw)).toString();
    } catch (CharacterCodingException e) {
      throw new PackageRefused("An entry's name is no UTF-8.", e);
    }
    String problem = FilePath.problem(name);
    require(problem.isEmpty(), "The entry \"" + name + "\" is refused: " + problem + ".");
    return name;
  }

  /** The local header must say just what the directory says. */
  private Entry local(Found found) throws IOException {
    Entry e = found.entry;
    boolean large = e.size() >= Zip.IN_64 || e.packed() >= Zip.IN_64;
    int extra = large ? 20 : 0;
    ByteBuffer b = at(found.offset, Zip.LOCAL_LENGTH + found.name.length + extra);
    String otherwise = "The entry \"" + e.name() + "\" says otherwise than the directory.";
    require(
        b.getInt() == Zip.LOCAL
            && u16(b) == Zip.VERSION
            && u16(b) == Zip.FLAGS
            && u16(b) == e.method()
            && u16(b) == Zip.TIME
            && u16(b) == Zip.DATE
            && u32(b) == e.crc()
            && u32(b) == (large ? Zip.IN_64 : e.packed())
            && u32(b) == (large ? Zip.IN_64 : e.size())
            && u16(b) == found.name.length
            && u16(b) == extra,
        otherwise);
    byte[] name = new byte[found.name.length];
    b.get(name);
    require(java.util.Arrays.equals(name, found.name), otherwise);
    if (large) {
      require(
          u16(b) == Zip.EXTRA64
              && u16(b) == 16
              && b.getLong() == e.size()
              && b.getLong() == e.packed(),
          otherwise);
    }
    long start = found.offset + Zip.LOCAL_LENGTH + found.name.length + extra;
    require(start + e.packed() <= length, "The entry \"" + e.name() + "\" is cut off.");
    return new Entry(e.name(), e.method(), e.crc(), e.packed(), e.size(), start);
  }

  /**
   * The bytes of an entry. Reading it to its end has checked size and CRC; a size is enforced while
   * it is read, so that no more than it says ever comes out.
   */
  InputStream open(Entry entry) {
    return entry.method() == Zip.STORED ? new Stored(entry) : new Deflated(entry);
  }

  /** Checks what comes out. */
  private abstract static class Checked extends InputStream {
    final Entry entry;
    private final CRC32 crc = new CRC32();
    private long out;
    private boolean ended;

    Checked(Entry entry) {
      this.entry = entry;
    }

    abstract int some(byte[] to, int from, int count) throws IOException;

    /** Nothing packed may be left over. */
    abstract boolean usedUp() throws IOException;

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int from, int count) throws IOException {
      if (count == 0) {
        return 0;
      }
      if (ended) {
        return -1;
      }
      int n = out < entry.size() ? some(to, from, (int) Math.min(count, entry.size() - out)) : -1;
      if (n < 0) {
        ended = true;
        require(
            out == entry.size() && usedUp(),
            "The entry \"" + entry.name() + "\" has another size than it says.");
        require(crc.getValue() == entry.crc(), "The entry \"" + entry.name() + "\" is damaged.");
        return -1;
      }
      crc.update(to, from, n);
      out += n;
      return n;
    }
  }

  private int packed(Entry entry, long done, byte[] to, int from, int count) throws IOException {
    int want = (int) Math.min(count, entry.packed() - done);
    if (want == 0) {
      return -1;
    }
    int n = in.read(ByteBuffer.wrap(to, from, want), entry.start() + done);
    require(n > 0, "The file is cut off.");
    return n;
  }

  private final class Stored extends Checked {
    private long done;

    Stored(Entry entry) {
      super(entry);
    }

    @Override
    int some(byte[] to, int from, int count) throws IOException {
      int n = packed(entry, done, to, from, count);
      done += Math.max(0, n);
      return n;
    }

    @Override
    boolean usedUp() {
      return done == entry.packed();
    }
  }

  private final class Deflated extends Checked {
    private final Inflater inflater = new Inflater(/* nowrap= */ true);
    private final byte[] raw = new byte[1 << 16];
    private long done;

    Deflated(Entry entry) {
      super(entry);
    }

    @Override
    int some(byte[] to, int from, int count) throws IOException {
      try {
        while (true) {
          int n = inflater.inflate(to, from, count);
          if (n > 0) {
            return n;
          }
          if (inflater.finished() || inflater.needsDictionary()) {
            return -1;
          }
          int got = packed(entry, done, raw, 0, raw.length);
          if (got < 0) {
            return -1;
          }
          done += got;
          inflater.setInput(raw, 0, got);
        }
      } catch (DataFormatException e) {
        throw new PackageRefused("The entry \"" + entry.name() + "\" is damaged.", e);
      }
    }

    @Override
    boolean usedUp() throws IOException {
      // the end of the stream may still be ahead when the last byte has come out
      byte[] none = new byte[1];
      return some(none, 0, 1) < 0
          && inflater.finished()
          && inflater.getRemaining() == 0
          && done == entry.packed();
    }

    @Override
    public void close() {
      inflater.end();
    }
  }

  /** A whole small entry. */
  byte[] small(Entry entry, int longest) throws IOException {
    require(
        entry.size() <= longest,
        "The entry \"" + entry.name() + "\" is longer than " + longest + " bytes.");
    try (InputStream bytes = open(entry)) {
      return bytes.readAllBytes();
    }
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
