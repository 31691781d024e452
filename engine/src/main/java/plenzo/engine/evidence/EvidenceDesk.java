package plenzo.engine.evidence;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.evidence.Evidence;
import plenzo.core.evidence.TestReport;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.keeping.Cleared;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Runs;

/** Takes files as evidence, and hands them out. */
public final class EvidenceDesk {
  /** Room that must be left beside a file. */
  private static final long ROOM = 256L << 20;

  private final Tools tools;
  private final Runs runs;
  private final Promotions promotions;

  public EvidenceDesk(Tools tools, Runs runs, Promotions promotions) {
    this.tools = tools;
    this.runs = runs;
    this.promotions = promotions;
  }

  /**
   * What a file is given for.
   *
   * @param step number of the work by hand that it shows, 0 for none
   */
  public record About(long run, int step, String name, String words) {}

  /**
   * Keeps a file; whoever may judge or run there gives it, and whoever says what came of work by
   * hand, for that.
   *
   * @throws Problem when it is too large, or nothing came
   */
  public Evidence give(Person by, About about, InputStream in) throws IOException {
    Run run = runs.get(by, about.run());
    require(by, run, about.step());
    if (tools.files().room() < ROOM) {
      throw Problem.stopped("NO_ROOM", "There is no room for another file.", "Free some room");
    }
    long number = tools.keeper().write(kept -> kept.next("evidence"));
    String file = Evidence.file(number);
    MessageDigest sum = Digest.sha256();
    Bounded bounded = new Bounded(in);
    try {
      tools.files().write(file, out -> new DigestInputStream(bounded, sum).transferTo(out));
    } catch (UncheckedIOException e) { // nothing of it was kept
      if (bounded.over) {
        throw Problem.invalid(
            "TOO_LARGE",
            "A file that shows something has at most " + (Evidence.LONGEST >> 20) + " MB.",
            "/file");
      }
      throw e;
    }
    if (bounded.read == 0) {
      tools.files().remove(file);
      throw Problem.invalid("EMPTY", "The file is empty: it shows nothing.", "/file");
    }
    try {
      return kept(by, run, about, number, bounded.read, Digest.of(sum));
    } catch (IllegalArgumentException e) {
      tools.files().remove(file);
      throw Problem.invalid("EVIDENCE", e.getMessage() + ".", "/name");
    }
  }

  private Evidence kept(Person by, Run run, About about, long number, long bytes, Digest digest) {
    Evidence made =
        new Evidence(
            number,
            run.application(),
            new SemVer(run.version()),
            run.site(),
            run.number(),
            about.step(),
            about.name(),
            bytes,
            digest,
            about.words(),
            report(Evidence.file(number)),
            by.login(),
            tools.now(),
            0);
    Evidence given =
        tools
            .keeper()
            .write(
                kept -> {
                  kept.evidence().insert(made);
                  kept.note(
                      new Event(
                          by.login(),
                          "evidence given",
                          run.application(),
                          run.site().stage(),
                          run.site().site(),
                          run.version(),
                          run.promotion(),
                          run.number(),
                          made.shown()
                              + " "
                              + made.name()
                              + ", SHA-256 "
                              + digest.hex()
                              + (made.report() == null ? "" : ": " + made.report().words())),
                      tools.now());
                  return made;
                });
    promotions.judgeAgain(
        all ->
            all.stream()
                .filter(
                    p ->
                        p.application().equals(made.application())
                            && p.version().equals(made.version()))
                .toList());
    return given;
  }

  private @Nullable TestReport report(String file) {
    try (InputStream in = tools.files().open(file, 0)) {
      return TestReportFile.read(in).orElse(null);
    } catch (IOException e) {
      throw new UncheckedIOException(file + " cannot be read", e);
    }
  }

  private void require(Person by, Run run, int step) {
    if (step != 0
        && step <= run.steps().size()
        && step > 0
        && run.steps().get(step - 1).manual() != null
        && runs.steering().may(by, run).take(run.steps().get(step - 1)).allowed()) {
      return;
    }
    String stage = run.site().stage();
    String application = run.application();
    if (!by.may(Right.RUN, stage, application)) {
      May may = May.byRight(by, Right.JUDGE, stage, application, tools.everybody());
      if (!may.allowed()) {
        throw may.refused();
      }
    }
  }

  /** Those that the person may see, newest first. */
  public Slice<Evidence> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK);
    return tools.keeper().read(kept -> kept.evidence().slice(filter, sight));
  }

  /** The same of one run alone: no more is read than what was given at its site. */
  public Slice<Evidence> list(Person by, Kept.Filter filter, long run) {
    Kept.Filter there =
        tools
            .keeper()
            .read(kept -> kept.runs().find(String.valueOf(run)))
            .filter(r -> filter.application() == null)
            .map(
                r ->
                    Kept.Filter.at(r.application(), r.site()).part(filter.before(), filter.limit()))
            .orElse(filter);
    return Slice.filled(there, part -> list(by, part), e -> e.run() == run);
  }

  public Evidence get(Person by, long number) {
    return tools
        .keeper()
        .read(kept -> kept.evidence().find(String.valueOf(number)))
        .filter(e -> by.may(Right.LOOK, e.site().stage(), e.application()))
        .orElseThrow(() -> Problem.notFound("evidence", "E-" + number));
  }

  /** The file itself; whoever may see values at the stage takes it: what it shows may hold them. */
  public InputStream open(Person by, long number) {
    Evidence e = get(by, number);
    May may =
        May.byRight(by, Right.SEE_VALUES, e.site().stage(), e.application(), tools.everybody());
    if (!may.allowed() && !e.by().equals(by.login())) {
      throw may.refused();
    }
    Cleared.requireThere(tools, Sort.EVIDENCE, e.shown());
    return tools.files().open(e.file(), 0);
  }

  /** Ends with an error behind the longest that is taken. */
  private static final class Bounded extends FilterInputStream {
    private long read;
    private boolean over;

    Bounded(InputStream in) {
      super(Objects.requireNonNull(in));
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] bytes, int from, int length) throws IOException {
      int n = super.read(bytes, from, length);
      read += Math.max(0, n);
      if (read > Evidence.LONGEST) {
        over = true;
        throw new IOException("larger than is taken");
      }
      return n;
    }
  }
}
