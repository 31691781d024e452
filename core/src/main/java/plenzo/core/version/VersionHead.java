package plenzo.core.version;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.digest.Digest;
import plenzo.core.manual.ManualStep;

/**
 * What is said of a sealed version, without its components: short, however large the version is.
 *
 * @param parent number of the version it was drafted from, null for the first
 * @param digest of the content alone: the same content has the same digest on any machine
 * @param kinds how many components of each kind, by the kind's code
 * @param needs other applications that must be at the same site, and releases of its servers
 * @param order which components a person moved before others
 * @param tasks what it was done for: references into a task list, or https addresses
 * @param manual what people do when it comes to a site, in order
 * @param written who wrote what it took from a repository; not part of its digest
 * @param coverage how much of what its source held it has, a line each, the whole first; empty
 *     where that is not known; not part of its digest
 */
public record VersionHead(
    String application,
    SemVer number,
    @Nullable SemVer parent,
    Digest digest,
    SortedMap<String, Integer> kinds,
    List<Removal> removals,
    List<Need> needs,
    List<Before> order,
    String title,
    String notes,
    List<String> tasks,
    String author,
    Instant sealedAt,
    String source,
    boolean withdrawn,
    @Nullable List<ManualStep> manual,
    @Nullable Written written,
    @Nullable List<String> coverage) {
  public VersionHead {
    // a version of before kept none
    coverage = coverage == null ? List.of() : List.copyOf(coverage);
    // a version of before had none
    manual = manual == null ? List.of() : ManualStep.all(manual);
    written = written == null ? Written.NOTHING : written;
    kinds = Collections.unmodifiableSortedMap(new TreeMap<>(kinds));
    removals = removals.stream().sorted().toList();
    needs = needs.stream().sorted().toList();
    order = order.stream().sorted().toList();
    tasks = tasks(tasks);
  }

  /**
   * References to tasks as they are kept: without blanks around, each once, in the given order.
   *
   * @throws IllegalArgumentException when one is no word and no https address
   */
  private static List<String> tasks(List<String> asked) {
    List<String> out = asked.stream().map(String::strip).distinct().toList();
    for (String task : out) {
      if (task.length() > 200 || !task.matches("https://[^\\s]+|[\\p{L}\\p{N}#._/-]+")) {
        throw new IllegalArgumentException(
            "A task is one word such as FERRY-118, or an https address; got \"" + task + "\"");
      }
    }
    return out;
  }

  /** What people do when it comes to a site, in order. */
  @Override
  public List<ManualStep> manual() {
    return manual == null ? List.of() : manual;
  }

  @Override
  public Written written() {
    return written == null ? Written.NOTHING : written;
  }

  /** {@code fares@2.4.0}. */
  public String ref() {
    return application + "@" + number;
  }

  /** How many components it has. */
  public int components() {
    return kinds.values().stream().mapToInt(n -> n).sum();
  }

  public VersionHead withdraw() {
    return with(/* out= */ true, written(), coverage());
  }

  /** The same with who wrote it. */
  VersionHead written(Written by) {
    return with(withdrawn, by, coverage());
  }

  /** The same with how much of its source it has. */
  VersionHead covering(List<String> lines) {
    return with(withdrawn, written(), lines);
  }

  @Override
  public List<String> coverage() {
    return coverage == null ? List.of() : coverage;
  }

  private VersionHead with(boolean out, Written by, List<String> covered) {
    return new VersionHead(
        application,
        number,
        parent,
        digest,
        kinds,
        removals,
        needs,
        order,
        title,
        notes,
        tasks,
        author,
        sealedAt,
        source,
        out,
        manual,
        by,
        covered);
  }
}
