package plenzo.engine.recording;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.digest.Digest;
import plenzo.core.evidence.Evidence;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.report.Report;
import plenzo.engine.Tools;
import plenzo.engine.evidence.EvidenceDesk;
import plenzo.engine.packaging.Keys;
import plenzo.engine.people.Rights;
import plenzo.packages.PackageDesk;
import plenzo.packages.SavedHistory;
import plenzo.packages.SavedHistory.Part;

/** Saves a stretch of the history as a file that can be checked without this service. */
public final class Saving {
  private static final int PAGE = 4_000;

  private final Tools tools;
  private final Records records;
  private final EvidenceDesk evidence;
  private final Keys keys;
  private final PackageDesk desk;

  public Saving(Tools tools, Records records, EvidenceDesk evidence, Keys keys, PackageDesk desk) {
    this.tools = tools;
    this.records = records;
    this.evidence = evidence;
    this.keys = keys;
    this.desk = desk;
  }

  /**
   * One file that is handed out once; closing it removes it.
   *
   * @param size its bytes
   */
  public record Saved(InputStream bytes, long size) {}

  /** What belongs to a stretch, while it is gathered. */
  private static final class Gathered {
    final Set<Long> promotions = new TreeSet<>();
    final Set<String> signs = new TreeSet<>();
    final List<Part> parts = new ArrayList<>();
    final List<String> leftOut = new ArrayList<>();
  }

  /**
   * @param from entries of before are left out; those behind {@code until} are there, as they tie
   *     the stretch to the head
   * @param with whether records of promotions and files of evidence go with it, as far as the
   *     person may see them
   * @throws Problem when the right is missing
   */
  public Saved save(Person by, Instant from, Instant until, boolean with) {
    Rights.require(by, Right.AUDIT, Person.EVERY, Person.EVERY);
    if (!until.isAfter(from)) {
      throw Problem.invalid("SPAN", "The end is not after the beginning.", "/until");
    }
    String folder = "saved/" + tools.newId();
    try {
      Gathered g = new Gathered();
      g.parts.add(entries(folder, from, until, g));
      g.parts.add(names(folder, g));
      if (with) {
        documents(by, folder, g);
        files(by, from, until, g);
      }
      String file = folder + "/history.zip";
      desk.save(
          file,
          new SavedHistory.Facts(tools.keeper().service(), tools.now(), from, until, g.leftOut),
          g.parts,
          keys.signing());
      return new Saved(once(folder, file), tools.files().size(file));
    } catch (RuntimeException e) {
      tools.files().remove(folder);
      throw e;
    }
  }

  private InputStream once(String folder, String file) {
    return new java.io.FilterInputStream(tools.files().open(file, 0)) {
      @Override
      public void close() throws IOException {
        super.close();
        tools.files().remove(folder);
      }
    };
  }

  /** Takes away what a kill left of files that were being saved. */
  public void tidy() {
    tools.files().remove("saved");
  }

  private Part entries(String folder, Instant from, Instant until, Gathered g) {
    MessageDigest sum = Digest.sha256();
    String name = folder + "/" + SavedHistory.ENTRIES;
    try (OutputStream out = new DigestOutputStream(tools.files().create(name), sum)) {
      long next = 0;
      boolean more = true;
      while (more) {
        long at = next;
        List<HistoryEntry> page =
            tools.keeper().read(kept -> kept.history(Kept.HistoryFilter.part(at, PAGE)));
        for (HistoryEntry e : page) {
          more = !e.at().isBefore(from);
          if (!more) {
            break;
          }
          out.write(e.line().getBytes(StandardCharsets.UTF_8));
          out.write('\n');
          gather(e, until, g);
          next = e.sequence();
        }
        more &= !page.isEmpty() && next > 1;
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The history could not be saved", e);
    }
    return part(SavedHistory.ENTRIES, name, Digest.of(sum));
  }

  private static void gather(HistoryEntry e, Instant until, Gathered g) {
    HistoryEntry.Chained chained = e.chained();
    if (chained != null) {
      g.signs.addAll(Names.signsIn(chained.actor() + chained.text()));
    }
    if (e.promotion() != null && e.at().isBefore(until)) {
      g.promotions.add(e.promotion());
    }
  }

  private Part part(String name, String file, Digest digest) {
    return new Part(name, tools.files().size(file), digest, () -> tools.files().open(file, 0));
  }

  private Part names(String folder, Gathered g) {
    Names names = tools.keeper().read(Kept::names);
    StringBuilder lines = new StringBuilder();
    for (String sign : g.signs) {
      Names.Called c = names.find(sign);
      if (c != null) {
        lines
            .append(
                Json.object("id", c.id(), "salt", c.salt(), "word", c.word(), "login", c.login())
                    .canonical())
            .append('\n');
      }
    }
    return written(folder, SavedHistory.NAMES, lines.toString());
  }

  private Part written(String folder, String name, String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    String file = folder + "/" + name;
    tools.files().write(file, out -> new ByteArrayInputStream(bytes).transferTo(out));
    return part(name, file, Digest.of(text));
  }

  private void documents(Person by, String folder, Gathered g) {
    for (long number : g.promotions) {
      String shown = "P-" + number;
      try {
        Report r = records.of(by, number, by.may(Right.SEE_VALUES, Person.EVERY, Person.EVERY));
        g.parts.add(written(folder, "records/" + shown + ".html", r.html()));
      } catch (Problem e) {
        g.leftOut.add("The record of " + shown + ": " + e.getMessage());
      }
    }
  }

  private void files(Person by, Instant from, Instant until, Gathered g) {
    List<Evidence> all = tools.keeper().read(kept -> kept.evidence().all());
    for (Evidence e : all) {
      if (e.at().isBefore(from) || !e.at().isBefore(until)) {
        continue;
      }
      try {
        evidence.open(by, e.number()).close();
        g.parts.add(
            new Part(
                "evidence/" + e.shown() + "/" + plain(e.name()),
                e.bytes(),
                e.digest(),
                () -> evidence.open(by, e.number())));
      } catch (Problem | IOException x) {
        g.leftOut.add("The file of evidence " + e.shown() + ": " + x.getMessage());
      }
    }
  }

  private static String plain(String name) {
    String out = name.replaceAll("[^A-Za-z0-9._-]", "_");
    return out.matches("[.]+") ? "file" : out.length() > 100 ? out.substring(0, 100) : out;
  }
}
