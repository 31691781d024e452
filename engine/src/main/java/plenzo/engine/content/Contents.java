package plenzo.engine.content;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.keeping.Files;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.engine.Tools;

/** Content of components, named by its digest: kind and canonical bytes, nothing else. */
public final class Contents {
  private final Tools tools;

  public Contents(Tools tools) {
    this.tools = tools;
  }

  /** What was stored. */
  public record Stored(Digest digest, long rows) {}

  private static String name(Digest digest) {
    return "content/" + digest.hex().substring(0, 2) + "/" + digest.hex();
  }

  private static MessageDigest begin(Kind kind) {
    MessageDigest digest = Digest.sha256();
    digest.update(("plenzo 1 " + kind.code() + "\n").getBytes(StandardCharsets.UTF_8));
    return digest;
  }

  public Stored put(TableStructure structure) {
    byte[] bytes = structure.canonical().getBytes(StandardCharsets.UTF_8);
    MessageDigest digest = begin(Kind.TABLE);
    digest.update(bytes);
    Digest id = Digest.of(digest);
    if (!tools.files().exists(name(id))) {
      tools.files().write(name(id), out -> out.write(bytes));
    }
    return new Stored(id, 0);
  }

  /** Streams the rows to their place; closing the reader is the caller's. */
  public Stored put(RowReader rows) {
    Files files = tools.files();
    String aside = "content/incoming-" + tools.newId();
    MessageDigest digest = begin(Kind.RECORDS);
    long count = 0;
    try (OutputStream out = files.create(aside)) {
      line(out, digest, CanonicalCsv.line(rows.header().names()));
      line(out, digest, CanonicalCsv.line(rows.header().types()));
      for (Row row = rows.next(); row != null; row = rows.next()) {
        line(out, digest, row.raw());
        count++;
      }
    } catch (IOException e) {
      files.remove(aside);
      throw new UncheckedIOException("The rows could not be stored", e);
    } catch (RuntimeException e) {
      files.remove(aside);
      throw e;
    }
    Digest id = Digest.of(digest);
    files.move(aside, name(id));
    return new Stored(id, count);
  }

  private static void line(OutputStream out, MessageDigest digest, byte[] line) throws IOException {
    out.write(line);
    out.write('\n');
    digest.update(line);
    digest.update((byte) '\n');
  }

  /**
   * @throws IllegalStateException when what lies there is not what its name says
   */
  public TableStructure structure(Digest digest) {
    try (InputStream in = tools.files().open(name(digest), 0)) {
      byte[] bytes = in.readAllBytes();
      MessageDigest check = begin(Kind.TABLE);
      check.update(bytes);
      if (!Digest.of(check).equals(digest)) {
        throw new IllegalStateException("Stored content " + digest.brief() + " is damaged");
      }
      return TableStructure.of(new String(bytes, StandardCharsets.UTF_8));
    } catch (IOException e) {
      throw new UncheckedIOException("Stored content " + digest.brief() + " cannot be read", e);
    }
  }

  /** The rows in key order; their digest is checked when the last one is read. */
  public RowReader rows(Digest digest, int keyColumns) {
    MessageDigest check = begin(Kind.RECORDS);
    java.security.DigestInputStream in =
        new java.security.DigestInputStream(tools.files().open(name(digest), 0), check);
    return new RowReader(in, keyColumns) {
      @Override
      protected void ended(long rows) {
        if (!Digest.of(check).equals(digest)) {
          throw new IllegalStateException("Stored content " + digest.brief() + " is damaged");
        }
      }
    };
  }
}
