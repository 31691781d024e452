package plenzo.cli;

import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import plenzo.api.Stages.StageView;

/**
 * What every command has: the options of all, the API and the printer. A thing without a verb
 * prints its help.
 */
abstract class Group implements Runnable {
  @CommandLine.Spec CommandLine.Model.@Nullable CommandSpec spec;

  @Override
  public void run() {
    throw Plenzo.usage(java.util.Objects.requireNonNull(spec).commandLine());
  }

  final Plenzo top() {
    return (Plenzo) java.util.Objects.requireNonNull(spec).root().userObject();
  }

  final Api api() {
    return top().api();
  }

  final Out out() {
    return top().out();
  }

  /**
   * Asks until what comes back is as wanted, for as long as the wait limit allows.
   *
   * @param over what is said when the limit is over, and {@code next} what to do then
   */
  final <T> T until(Supplier<T> ask, Predicate<T> wanted, String over, String next) {
    long until = System.nanoTime() + top().waitLimit * 1_000_000_000L;
    T now = ask.get();
    while (!wanted.test(now)) {
      if (System.nanoTime() > until) {
        throw new Failed(Failed.WAIT_OVER, "WAIT_OVER", over, List.of(next), "");
      }
      RunText.pause(150);
      now = ask.get();
    }
    return now;
  }

  /** "1 file", "2 files": regular plurals only. */
  static String counted(long n, String one) {
    return n + " " + (n == 1 ? one : one.equals("policy") ? "policies" : one + "s");
  }

  /** How many components of each kind: "2 files, 1 records component". */
  static String counted(Map<String, Integer> kinds) {
    return kinds.isEmpty()
        ? "no component"
        : String.join(
            ", ",
            kinds.entrySet().stream()
                .map(
                    e ->
                        counted(
                            e.getValue(),
                            e.getKey().equals("records") ? "records component" : e.getKey()))
                .toList());
  }

  /** {@code fares@2.4.0} or {@code fares@production/north} in its two parts. */
  static String[] parts(String text, String example) {
    int at = text.indexOf('@');
    if (at <= 0 || at == text.length() - 1) {
      throw Failed.usage("Write it as " + example + "; got \"" + text + "\".");
    }
    return new String[] {text.substring(0, at), text.substring(at + 1)};
  }

  /**
   * @throws Failed when there is none of that key
   */
  final StageView stage(String key) {
    return api().list("/stages", StageView.class).stream()
        .filter(s -> s.key().equals(key))
        .findFirst()
        .orElseThrow(
            () -> Failed.notFound("There is no stage \"" + key + "\".", "plenzo stage list"));
  }

  /** Saves a stage as it was looked at, but for what was changed of it. */
  final StageView saved(StageView s) {
    return api().put("/stages/" + Api.encode(s.key()), s, StageView.class);
  }

  /**
   * A site as people write it; a stage alone names its only site, and is refused when it has more.
   */
  final String site(String text) {
    if (text.contains("/")) {
      return text;
    }
    List<String> sites =
        api().list("/stages", StageView.class).stream()
            .filter(s -> s.key().equals(text))
            .flatMap(s -> s.sites().stream())
            .map(s -> text + "/" + s.key())
            .toList();
    if (sites.size() > 1) {
      throw Failed.usage(
          "\"" + text + "\" has several sites; name one: " + String.join(", ", sites) + ".");
    }
    return sites.isEmpty() ? text + "/main" : sites.get(0);
  }
}
