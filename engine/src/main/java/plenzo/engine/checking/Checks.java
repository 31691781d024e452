package plenzo.engine.checking;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import plenzo.core.check.BuiltInChecks;
import plenzo.core.check.ContentCheck;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.engine.content.Contents;

/** Runs the checks of content: those that every Plenzo has, and those that were added. */
public final class Checks {
  /** Time that an added check has for one component (guess: reading a megabyte takes far less). */
  private static final long SECONDS = 10;

  /** Remarks of one check about one component that are kept. */
  private static final int MOST = 20;

  private final Contents contents;
  private final List<ContentCheck> builtIn = BuiltInChecks.all();
  private final List<ContentCheck> added;

  /** Threads of added checks; one that hangs keeps its thread and nothing else. */
  private final ExecutorService threads =
      Executors.newCachedThreadPool(
          work -> {
            Thread t = new Thread(work, "added-check");
            t.setDaemon(true);
            return t;
          });

  /**
   * @throws IllegalArgumentException when two checks have one name; says which classes
   */
  public Checks(Contents contents, List<ContentCheck> added) {
    this.contents = contents;
    this.added = List.copyOf(added);
    Map<String, ContentCheck> names = new TreeMap<>();
    List<ContentCheck> all = new ArrayList<>(builtIn);
    all.addAll(added);
    for (ContentCheck check : all) {
      if (!check.id().matches("[a-z][a-z0-9-]{1,59}")) {
        throw new IllegalArgumentException(
            "A check's name is lower-case letters, digits and hyphens; "
                + check.getClass().getName()
                + " is called \""
                + check.id()
                + "\"");
      }
      ContentCheck other = names.put(check.id(), check);
      if (other != null) {
        throw new IllegalArgumentException(
            "Two checks are called \""
                + check.id()
                + "\": "
                + other.getClass().getName()
                + " and "
                + check.getClass().getName());
      }
    }
  }

  /** Of all, the built-in ones and those that were added. */
  public Set<String> names() {
    return Stream.concat(builtIn.stream(), added.stream())
        .map(ContentCheck::id)
        .collect(Collectors.toSet());
  }

  /** How many there are. */
  public int count() {
    return builtIn.size() + added.size();
  }

  /** What the checks of its kind say of one component's stored content. */
  public void check(ComponentKey key, Digest content, Consumer<Finding> sink) {
    ContentCheck.Content of =
        new ContentCheck.Content(key, contents.size(content), () -> contents.open(content));
    for (ContentCheck check : builtIn) {
      if (check.kinds().contains(key.kind())) {
        run(check, of).forEach(sink);
      }
    }
    for (ContentCheck check : added) {
      if (check.kinds().contains(key.kind())) {
        bounded(check, of).forEach(sink);
      }
    }
  }

  private List<Finding> bounded(ContentCheck check, ContentCheck.Content of) {
    Future<List<Finding>> running = threads.submit(() -> run(check, of));
    try {
      return running.get(SECONDS, TimeUnit.SECONDS);
    } catch (TimeoutException e) {
      running.cancel(true);
      return List.of(notChecked(check, of, "it gave no answer within " + SECONDS + " s"));
    } catch (InterruptedException e) {
      running.cancel(true);
      Thread.currentThread().interrupt();
      return List.of(notChecked(check, of, "it was interrupted"));
    } catch (ExecutionException e) {
      return List.of(notChecked(check, of, String.valueOf(e.getCause())));
    }
  }

  private static List<Finding> run(ContentCheck check, ContentCheck.Content of) {
    List<Finding> out = new ArrayList<>();
    try {
      check.check(
          of,
          remark -> {
            if (out.size() < MOST) {
              out.add(finding(check, of.key(), remark));
            }
          });
    } catch (Exception | LinkageError e) {
      System.getLogger(Checks.class.getName())
          .log(System.Logger.Level.WARNING, check.id() + " failed at " + of.key(), e);
      out.add(notChecked(check, of, String.valueOf(e.getMessage())));
    }
    return out;
  }

  private static Finding finding(ContentCheck check, ComponentKey key, ContentCheck.Remark remark) {
    return Finding.of(
        check.id(),
        remark.severity(),
        remark.part().isEmpty() ? key.toString() : key + "#" + remark.part(),
        remark.sentence(),
        1,
        remark.advice(),
        null);
  }

  /** A rule that could not be evaluated counts as a risk (rules of findings). */
  private static Finding notChecked(ContentCheck check, ContentCheck.Content of, String why) {
    return Finding.notEvaluated(
        check.id(),
        Severity.RISK,
        of.key().toString(),
        of.key() + " could not be checked by " + check.id() + ": " + why + ".",
        "Look at the service's log, or put the check right");
  }
}
