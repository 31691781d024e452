package plenzo.packages;

import java.io.BufferedInputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.json.Json;

/**
 * A stretch of the history as one file, with what belongs to it, so that an auditor can check it
 * with nothing but this file and a head that was kept elsewhere (docs/formats/saved-history.md).
 * The stretch goes on to the head of the moment when it was saved: whatever is left out behind it
 * could not be tied to any head.
 */
public final class SavedHistory {
  static final String TYPE = "application/vnd.plenzo.saved-history+json";

  /** Entries, the newest first, each a line as it is in the chain. */
  public static final String ENTRIES = "entries.jsonl";

  /** Names of people for the signs in those lines, as far as they are not blanked. */
  public static final String NAMES = "names.jsonl";

  static final String CONTENTS = "contents.json";
  private static final int FORMAT = 1;
  private static final long LONGEST = 64L << 30;
  private static final int LONGEST_CONTENTS = 64 << 20;

  /** Longest line: an entry has 10,000 characters of text at most, and signs for names in it. */
  private static final int LONGEST_LINE = 1 << 20;

  private SavedHistory() {}

  /**
   * @param from the earliest entry that was asked for was not before
   * @param until the end that was asked for; entries behind it are there all the same
   * @param leftOut what was not given, each with the reason
   */
  public record Facts(
      String service, Instant at, Instant from, Instant until, List<String> leftOut) {
    public Facts {
      leftOut = List.copyOf(leftOut);
    }
  }

  /**
   * One file in it.
   *
   * @param digest SHA-256 of its bytes
   */
  public record Part(String name, long size, Digest digest, Opening open) {}

  /** Opens what a part has. */
  public interface Opening {
    InputStream open() throws IOException;
  }

  /**
   * Writes it.
   *
   * @param file must not exist; removed again when writing fails
   */
  public static void write(Path file, Facts facts, List<Part> parts, Signatures.Keys keys) {
    byte[] contents =
        Json.object(
                "format",
                FORMAT,
                "service",
                facts.service(),
                "at",
                facts.at().toString(),
                "from",
                facts.from().toString(),
                "until",
                facts.until().toString(),
                "leftOut",
                facts.leftOut(),
                "key",
                keys.open(),
                "files",
                new Json.Arr(
                    parts.stream()
                        .map(
                            p ->
                                (Json)
                                    Json.object(
                                        "name",
                                        p.name(),
                                        "size",
                                        p.size(),
                                        "sha256",
                                        p.digest().hex()))
                        .toList()))
            .canonical()
            .getBytes(StandardCharsets.UTF_8);
    byte[] envelope = Signatures.envelope(keys, TYPE, contents).getBytes(StandardCharsets.UTF_8);
    try {
      try (ZipWriter zip = new ZipWriter(file)) {
        for (Part p : parts) {
          try (InputStream in = p.open().open()) {
            zip.add(p.name(), p.size(), in);
          }
        }
        zip.add(CONTENTS, envelope.length, new ByteArrayInputStream(envelope));
        zip.finish();
      }
    } catch (IOException e) {
      remove(file);
      throw new UncheckedIOException("The history could not be saved", e);
    } catch (RuntimeException e) {
      remove(file);
      throw e;
    }
  }

  private static void remove(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The unfinished file " + file + " stays", e);
    }
  }

  /** What a head that was kept elsewhere says of it. */
  public enum Word {
    /** None was given: whoever has the key could have made all of it up. */
    NONE,
    /** The history that is saved here is the one of that head. */
    HOLDS,
    /** It is a head of another service. */
    OTHER_SERVICE,
    /** It is of before the first entry, and says nothing of those. */
    BEFORE,
    /** It is of after the last entry, and cannot be tied to it. */
    AFTER,
    /** The entry of its number is another one: one of both was made up. */
    ANOTHER
  }

  /**
   * What was found.
   *
   * @param broken number of the first entry that is not as its chain says; 0 when all are
   * @param damaged files that are not as they were listed
   * @param head number of the head that was given; 0 when none was
   * @param blanked names that are blanked, whose signs nobody can tell any more
   */
  public record Checked(
      Facts facts,
      String keyId,
      long entries,
      long first,
      long last,
      String lastHash,
      long broken,
      int files,
      List<String> damaged,
      Word word,
      long head,
      int blanked) {
    public Checked {
      damaged = List.copyOf(damaged);
    }

    /** Whether everything in it is as it was signed, and as the chain says. */
    public boolean intact() {
      return broken == 0 && damaged.isEmpty() && word != Word.ANOTHER;
    }
  }

  /**
   * Reads every byte, in constant memory for the entries.
   *
   * @param head that was kept elsewhere; null when none was
   * @throws PackageRefused when it is no saved history, or its signature does not hold
   */
  public static Checked check(Path file, @Nullable SignedHead head) {
    try (ZipReader zip = new ZipReader(file, LONGEST)) {
      return check(zip, head);
    } catch (IOException e) {
      throw new UncheckedIOException("The file cannot be read", e);
    }
  }

  private static Checked check(ZipReader zip, @Nullable SignedHead head) throws IOException {
    ZipReader.Entry signed = zip.entries().get(CONTENTS);
    if (signed == null) {
      throw new PackageRefused("This is no saved history: it has no " + CONTENTS + ".");
    }
    String text = new String(zip.small(signed, LONGEST_CONTENTS), StandardCharsets.UTF_8);
    SignedDocument document = SignedDocument.read(text, TYPE, "saved history");
    Listed listed = Listed.of(document.payload());
    List<String> damaged = new ArrayList<>();
    Set<String> there = new HashSet<>(zip.entries().keySet());
    there.remove(CONTENTS);
    for (Map.Entry<String, Listed.One> one : listed.files().entrySet()) {
      ZipReader.Entry entry = zip.entries().get(one.getKey());
      there.remove(one.getKey());
      if (entry == null) {
        damaged.add(one.getKey() + " is missing");
      } else if (!same(zip, entry, one.getValue())) {
        damaged.add(one.getKey() + " is another one");
      }
    }
    there.forEach(n -> damaged.add(n + " was put there afterwards"));
    Chain chain = new Chain(names(zip), head);
    ZipReader.Entry entries = zip.entries().get(ENTRIES);
    if (entries != null) {
      lines(zip.open(entries), chain::take);
    }
    return new Checked(
        listed.facts(),
        document.keyId(),
        chain.entries,
        chain.first,
        chain.last,
        chain.lastHash,
        chain.broken,
        listed.files().size(),
        damaged,
        chain.word(listed.facts().service()),
        head == null ? 0 : head.anchor().number(),
        chain.blanked.size());
  }

  private static boolean same(ZipReader zip, ZipReader.Entry entry, Listed.One listed)
      throws IOException {
    MessageDigest sum = Digest.sha256();
    try (DigestInputStream in = new DigestInputStream(zip.open(entry), sum)) {
      in.transferTo(java.io.OutputStream.nullOutputStream());
    }
    return entry.size() == listed.size() && Digest.of(sum).hex().equals(listed.sha256());
  }

  private static Names names(ZipReader zip) throws IOException {
    List<Names.Called> all = new ArrayList<>();
    ZipReader.Entry entry = zip.entries().get(NAMES);
    if (entry != null) {
      lines(
          zip.open(entry),
          line -> {
            Json.Obj j = Json.parseObject(line);
            all.add(
                new Names.Called(
                    j.text("id"), j.findText("salt"), j.text("word"), j.text("login")));
          });
    }
    return new Names(all);
  }

  /** What takes a line. */
  private interface Line {
    void take(String line);
  }

  private static void lines(InputStream from, Line to) throws IOException {
    try (InputStream in = new BufferedInputStream(from, 1 << 16)) {
      ByteArrayOutputStream line = new ByteArrayOutputStream();
      for (int b = in.read(); b >= 0; b = in.read()) {
        if (b == '\n') {
          to.take(line.toString(StandardCharsets.UTF_8));
          line.reset();
        } else if (line.size() == LONGEST_LINE) {
          throw new PackageRefused("A line of it is too long.");
        } else {
          line.write(b);
        }
      }
      if (line.size() > 0) {
        throw new PackageRefused("Its last line is cut off.");
      }
    } catch (IllegalArgumentException | java.time.DateTimeException | ClassCastException e) {
      throw PackageRefused.unread("The file", e);
    }
  }

  /** The entries one after the other, the newest first. */
  private static final class Chain {
    private final Names names;
    private final @Nullable SignedHead head;
    private final Set<String> blanked = new HashSet<>();
    private long entries;
    private long first;
    private long last;
    private String lastHash = HistoryEntry.START;
    private String expected = "";
    private String firstBefore = HistoryEntry.START;
    private long broken;
    private @Nullable String hashAtHead;

    Chain(Names names, @Nullable SignedHead head) {
      this.names = names;
      this.head = head;
    }

    void take(String line) {
      HistoryEntry e = HistoryEntry.ofLine(line);
      if (entries == 0) {
        last = e.sequence();
        lastHash = e.hash();
      } else if (!expected.equals(e.hash()) || e.sequence() != first - 1) {
        broken = e.sequence();
      }
      if (!e.computedHash().equals(e.hash()) || !signed(e)) {
        broken = e.sequence();
      }
      if (head != null && head.anchor().number() == e.sequence()) {
        hashAtHead = e.hash();
      }
      entries++;
      first = e.sequence();
      expected = e.before();
      firstBefore = e.before();
    }

    /** Every sign is that of the name beside it, or of one that is blanked. */
    private boolean signed(HistoryEntry e) {
      boolean holds = true;
      for (String id : Names.signsIn(e.actor() + e.text())) {
        Names.Called c = names.find(id);
        if (c == null || c.blanked()) {
          blanked.add(id);
        } else {
          holds &= c.holds();
        }
      }
      return holds;
    }

    Word word(String service) {
      if (head == null) {
        return Word.NONE;
      }
      Anchor anchor = head.anchor();
      if (!head.service().equals(service)) {
        return Word.OTHER_SERVICE;
      }
      if (entries == 0 || anchor.number() > last) {
        return Word.AFTER;
      }
      if (anchor.number() == first - 1) {
        return anchor.hash().equals(firstBefore) ? Word.BEFORE : Word.ANOTHER;
      }
      if (anchor.number() < first) {
        return Word.BEFORE;
      }
      return anchor.hash().equals(hashAtHead) ? Word.HOLDS : Word.ANOTHER;
    }
  }

  /** What the signed list says. */
  private record Listed(Facts facts, Map<String, One> files) {
    record One(long size, String sha256) {}

    static Listed of(String text) {
      try {
        Json.Obj j = Json.parseObject(text);
        Map<String, One> files = new TreeMap<>();
        for (Json one : j.list("files")) {
          Json.Obj f = one.asObject();
          files.put(
              f.text("name"),
              new One(((Json.Num) f.members().get("size")).value(), f.text("sha256")));
        }
        return new Listed(
            new Facts(
                j.text("service"),
                Instant.parse(j.text("at")),
                Instant.parse(j.text("from")),
                Instant.parse(j.text("until")),
                j.texts("leftOut")),
            files);
      } catch (IllegalArgumentException
          | java.time.DateTimeException
          | ClassCastException
          | NullPointerException e) {
        throw PackageRefused.unread("The list of files", e);
      }
    }
  }
}
