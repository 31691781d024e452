package plenzo.engine.content;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.item.Definition;
import plenzo.core.json.Json;
import plenzo.core.keeping.Files;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.BehindRows;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsDigest;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.Tools;
import plenzo.engine.underway.Underway;

/** Content of components, named by its digest: kind and canonical bytes, nothing else. */
public final class Contents {
  /** Rows after which it is said how far the reading is. */
  private static final int TOLD = 10_000;

  private final Tools tools;

  public Contents(Tools tools) {
    this.tools = tools;
  }

  /** What was stored. */
  public record Stored(Digest digest, long rows, long bytes) {}

  private static String name(Digest digest) {
    return "content/" + digest.hex().substring(0, 2) + "/" + digest.hex();
  }

  public boolean holds(Digest digest) {
    return tools.files().exists(name(digest));
  }

  /** Bytes of the canonical content. */
  public long size(Digest digest) {
    return tools.files().size(name(digest));
  }

  public Stored put(TableStructure structure) {
    return put(Kind.TABLE, structure.canonical().getBytes(StandardCharsets.UTF_8));
  }

  public Stored put(Kind kind, byte[] canonical) {
    Digest id = ContentDigest.of(kind, canonical);
    if (!holds(id)) {
      tools.files().write(name(id), out -> out.write(canonical));
    }
    return new Stored(id, 0, canonical.length);
  }

  /** Streams canonical content to its place; closing the stream is the caller's. */
  public Stored put(Kind kind, InputStream canonical) {
    return aside(
        RowsDigest.of(kind),
        (out, digest) -> {
          byte[] buffer = new byte[1 << 16];
          for (int n = canonical.read(buffer); n >= 0; n = canonical.read(buffer)) {
            out.write(buffer, 0, n);
            digest.update(buffer, 0, n);
          }
          return 0;
        });
  }

  /** Streams the rows to their place; closing the reader is the caller's. */
  public Stored put(RowReader rows) {
    return put(rows, through -> {});
  }

  /**
   * The same, while somebody reads them on their way, so that they need not be read once more.
   *
   * @param reading may leave any of them unread
   */
  public Stored put(RowReader rows, Consumer<RowReader> reading) {
    return aside(
        ContentDigest.begin(Kind.RECORDS),
        (out, digest) -> {
          byte[] names = CanonicalCsv.line(rows.header().names());
          byte[] types = CanonicalCsv.line(rows.header().types());
          line(out, digest, names);
          line(out, digest, types);
          long head = names.length + types.length + 2L;
          Together together = new Together(out, digest);
          together.written = head;
          Passing passing = new Passing(rows, together, tools.underway().now());
          reading.accept(passing);
          passing.rest();
          together.flush();
          // each is told by its digest in its row
          passing.behind.write(out, together.written, rows.longValues());
          return rows.count();
        });
  }

  /** Rows that are stored as they are read. */
  private static final class Passing extends RowReader {
    private final RowReader rows;
    private final Together together;
    private final BehindRows behind = new BehindRows();
    private final boolean longOnes;
    private final Underway.Progress progress;

    private Passing(RowReader rows, Together together, Underway.Progress progress) {
      super(InputStream.nullInputStream(), rows.header(), false);
      this.rows = rows;
      this.longOnes = rows.mayNameLong();
      this.together = together;
      this.progress = progress;
    }

    @Override
    public @Nullable Row next() {
      Row row = rows.next();
      if (row != null) {
        together.line(row.raw());
        if (longOnes) {
          behind.add(row);
        }
        if (rows.count() % TOLD == 0) {
          progress.rows(rows.count());
        }
      }
      return row;
    }

    private void rest() {
      Row row = next();
      while (row != null) {
        row = next();
      }
    }
  }

  /** Lines are short: they are written and digested many at a time. */
  private static final class Together {
    private final OutputStream out;
    private final MessageDigest digest;
    private final byte[] buffer = new byte[1 << 16];
    private int length;

    /** Bytes of the file so far. */
    private long written;

    private Together(OutputStream out, MessageDigest digest) {
      this.out = out;
      this.digest = digest;
    }

    private void line(byte[] line) {
      try {
        add(line);
      } catch (IOException e) {
        throw new UncheckedIOException("The content could not be stored", e);
      }
    }

    private void add(byte[] line) throws IOException {
      written += line.length + 1L;
      if (length + line.length + 1 > buffer.length) {
        flush();
      }
      if (line.length + 1 > buffer.length) {
        Contents.line(out, digest, line);
        return;
      }
      System.arraycopy(line, 0, buffer, length, line.length);
      length += line.length;
      buffer[length++] = '\n';
    }

    private void flush() throws IOException {
      out.write(buffer, 0, length);
      digest.update(buffer, 0, length);
      length = 0;
    }
  }

  /** Writes content and digests it; returns how many rows there were. */
  private interface Filling {
    long fill(OutputStream out, MessageDigest digest) throws IOException;
  }

  private Stored aside(MessageDigest digest, Filling filling) {
    Files files = tools.files();
    Spilling out = new Spilling(files, "content/incoming-" + tools.newId());
    long count;
    try (out) {
      count = filling.fill(out, digest);
    } catch (IOException e) {
      out.forget();
      throw new UncheckedIOException("The content could not be stored", e);
    } catch (RuntimeException e) {
      out.forget();
      throw e;
    }
    Digest id = Digest.of(digest);
    out.become(name(id));
    return new Stored(id, count, out.size());
  }

  private static void line(OutputStream out, MessageDigest digest, byte[] line) throws IOException {
    out.write(line);
    out.write('\n');
    digest.update(line);
    digest.update((byte) '\n');
  }

  /** Canonical content as it lies there, not checked; the caller closes it. */
  public InputStream open(Digest digest) {
    return tools.files().open(name(digest), 0);
  }

  /**
   * Content that is small: a structure or a definition.
   *
   * @throws IllegalStateException when what lies there is not what its name says
   */
  public byte[] small(Kind kind, Digest digest) {
    try (InputStream in = open(digest)) {
      byte[] bytes = in.readAllBytes();
      if (!ContentDigest.of(kind, bytes).equals(digest)) {
        throw damaged(digest);
      }
      return bytes;
    } catch (IOException e) {
      throw new UncheckedIOException("Stored content " + digest.brief() + " cannot be read", e);
    }
  }

  private static IllegalStateException damaged(Digest digest) {
    return new IllegalStateException("Stored content " + digest.brief() + " is damaged");
  }

  public TableStructure structure(Digest digest) {
    return TableStructure.of(new String(small(Kind.TABLE, digest), StandardCharsets.UTF_8));
  }

  public Definition definition(ComponentKey key, Digest digest) {
    return Definition.of(
        key, Json.parse(new String(small(key.kind(), digest), StandardCharsets.UTF_8)));
  }

  public SchemaObject object(ComponentKey key, Digest digest) {
    return SchemaObject.of(key, small(key.kind(), digest));
  }

  /**
   * A version by the names of afterwards, what its components say of tables and columns too. Rows
   * stay as they lie there; views and routines name tables in the words that they had.
   */
  public Version renamed(Version version, Renaming names) {
    if (names.isEmpty()) {
      return version;
    }
    List<VersionEntry> out = new ArrayList<>();
    for (VersionEntry e : version.entries()) {
      Digest content = e.content();
      if (e.key().kind() == Kind.TABLE) {
        TableStructure was = structure(content);
        TableStructure is = names.of(TableName.of(e.key().name()), was);
        content = is.equals(was) ? content : put(is).digest();
      } else if (e.key().kind().schemaObject() && !names.tables().isEmpty()) {
        SchemaObject was = object(e.key(), content);
        SchemaObject is = was.renamed(names);
        content = is.equals(was) ? content : put(is.key().kind(), is.canonical()).digest();
      }
      VersionEntry named = e.named(names);
      out.add(
          new VersionEntry(named.key(), e.uid(), content, named.options(), e.rows(), e.origin()));
    }
    return new Version(version.head(), out);
  }

  /** Names of tables and columns, with what a version has under one that was given up. */
  public Renaming taking(Version version, Renaming names) {
    return names.taking(
        t -> table(version, t).isPresent(),
        (t, c) -> table(version, t).flatMap(is -> is.column(c)).isPresent());
  }

  /** Names of tables and columns, with what goes of a version because another takes its name. */
  public Renaming leaving(Version version, Renaming names) {
    return names.leaving(
        t -> table(version, t).isPresent(),
        (t, c) -> table(version, t).flatMap(is -> is.column(c)).isPresent());
  }

  private Optional<TableStructure> table(Version version, TableName name) {
    return version
        .entry(new ComponentKey(Kind.TABLE, name.componentName()))
        .map(e -> structure(e.content()));
  }

  /** Rows of a version in the order of another key; null when they lack a column of it. */
  public @Nullable RowReader by(List<String> key, RowReader rows) {
    return ByOtherKey.of(tools.files(), "sorting/" + tools.newId(), rows, key);
  }

  /** Whether rows of stored content name long values. */
  public boolean hasLongValues(Digest digest) {
    String name = name(digest);
    return BehindRows.rows(offset -> tools.files().open(name, offset), size(digest)) < size(digest);
  }

  /** Long values that rows of stored contents name. */
  public LongValues longValues(List<Digest> contents) {
    return value -> {
      for (Digest content : contents) {
        String name = name(content);
        Optional<InputStream> found =
            BehindRows.in(offset -> tools.files().open(name, offset), tools.files().size(name))
                .open(value);
        if (found.isPresent()) {
          return found;
        }
      }
      return Optional.empty();
    };
  }

  /** The rows in key order; their digest is checked when the last one is read. */
  public RowReader rows(Digest digest, int keyColumns) {
    MessageDigest check = ContentDigest.begin(Kind.RECORDS);
    String name = name(digest);
    InputStream rows = BehindRows.rowsOf(offset -> tools.files().open(name, offset), size(digest));
    DigestInputStream in = new DigestInputStream(rows, check);
    return new RowReader(in, keyColumns) {
      @Override
      public LongValues longValues() {
        return Contents.this.longValues(List.of(digest));
      }

      @Override
      protected void ended(long rows) {
        if (!Digest.of(check).equals(digest)) {
          throw damaged(digest);
        }
      }
    };
  }
}
