package plenzo.core.component;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * The order in which components are written: what is needed before what needs it, then as a person
 * moved them, ties by kind and name. Linear in components and needs, but for cycles.
 *
 * @param keys every component once
 * @param cycles components that need one another, each as the path back to its beginning; they are
 *     written together, the first by kind and name first
 */
public record ComponentOrder(List<ComponentKey> keys, List<List<ComponentKey>> cycles) {
  private static final Comparator<ComponentKey> TIES =
      Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name);

  public ComponentOrder {
    keys = List.copyOf(keys);
    cycles = cycles.stream().map(List::copyOf).toList();
  }

  /**
   * @param needs what a component needs; needs outside {@code all} are left out
   * @param moved a person's words; those that contradict a need give way
   */
  public static ComponentOrder of(
      Collection<ComponentKey> all,
      Map<ComponentKey, ? extends Collection<ComponentKey>> needs,
      List<Before> moved) {
    return of(all, needs, Map.of(), moved);
  }

  /**
   * The same where some needs are only wished: in a circle these give way.
   *
   * @param wished what should come before a component, and need not
   */
  public static ComponentOrder of(
      Collection<ComponentKey> all,
      Map<ComponentKey, ? extends Collection<ComponentKey>> needs,
      Map<ComponentKey, ? extends Collection<ComponentKey>> wished,
      List<Before> moved) {
    Map<ComponentKey, Set<ComponentKey>> before = new HashMap<>();
    Map<ComponentKey, List<ComponentKey>> after = new HashMap<>();
    all.forEach(key -> before.put(key, new TreeSet<>(TIES)));
    needs.forEach((key, needed) -> needed.forEach(n -> edge(n, key, before, after)));
    Set<Before> weak = new HashSet<>();
    wished.forEach(
        (key, first) ->
            first.forEach(
                n -> {
                  if (edge(n, key, before, after)) {
                    weak.add(new Before(n, key));
                  }
                }));
    for (Before b : moved) {
      if (path(b.first(), b.then(), needs).isEmpty()) {
        edge(b.first(), b.then(), before, after);
      }
    }
    PriorityQueue<ComponentKey> free = new PriorityQueue<>(TIES);
    before.forEach(
        (key, waits) -> {
          if (waits.isEmpty()) {
            free.add(key);
          }
        });
    TreeSet<ComponentKey> left = new TreeSet<>(TIES);
    left.addAll(before.keySet());
    List<ComponentKey> out = new ArrayList<>();
    List<List<ComponentKey>> cycles = new ArrayList<>();
    while (!left.isEmpty()) {
      ComponentKey next = free.poll();
      if (next == null) {
        List<ComponentKey> cycle = cycle(left.first(), before);
        Before gives = weakest(cycle, weak);
        if (gives != null) {
          Set<ComponentKey> waits = Objects.requireNonNull(before.get(gives.then()));
          waits.remove(gives.first());
          if (waits.isEmpty()) {
            free.add(gives.then());
          }
          continue;
        }
        cycles.add(cycle);
        next = Collections.min(cycle, TIES);
      }
      left.remove(next);
      out.add(next);
      for (ComponentKey dependent : after.getOrDefault(next, List.of())) {
        Set<ComponentKey> waits = before.getOrDefault(dependent, Set.of());
        if (left.contains(dependent) && waits.remove(next) && waits.isEmpty()) {
          free.add(dependent);
        }
      }
      before.remove(next);
    }
    return new ComponentOrder(out, cycles);
  }

  /** The first wish of a circle, each of which waits for the next. */
  private static @Nullable Before weakest(List<ComponentKey> cycle, Set<Before> weak) {
    for (int i = 1; i < cycle.size(); i++) {
      Before b = new Before(cycle.get(i), cycle.get(i - 1));
      if (weak.contains(b)) {
        return b;
      }
    }
    return null;
  }

  /** Whether it is new. */
  private static boolean edge(
      ComponentKey first,
      ComponentKey then,
      Map<ComponentKey, Set<ComponentKey>> before,
      Map<ComponentKey, List<ComponentKey>> after) {
    Set<ComponentKey> waits = before.get(then);
    boolean fresh =
        waits != null && before.containsKey(first) && !first.equals(then) && waits.add(first);
    if (fresh) {
      after.computeIfAbsent(first, k -> new ArrayList<>()).add(then);
    }
    return fresh;
  }

  /** From a component that waits to one that it waits for, until one comes again. */
  private static List<ComponentKey> cycle(
      ComponentKey start, Map<ComponentKey, Set<ComponentKey>> before) {
    LinkedHashSet<ComponentKey> seen = new LinkedHashSet<>();
    ComponentKey at = start;
    while (seen.add(at)) {
      at = before.getOrDefault(at, Set.of()).iterator().next();
    }
    List<ComponentKey> path = new ArrayList<>(seen);
    List<ComponentKey> out = new ArrayList<>(path.subList(path.indexOf(at), path.size()));
    out.add(at);
    return out;
  }

  /**
   * How one component needs another: from the one to the other over what is needed between; empty
   * when it does not.
   */
  public static List<ComponentKey> path(
      ComponentKey from,
      ComponentKey to,
      Map<ComponentKey, ? extends Collection<ComponentKey>> needs) {
    Map<ComponentKey, ComponentKey> cameFrom = new HashMap<>();
    Set<ComponentKey> seen = new HashSet<>(Set.of(from));
    Deque<ComponentKey> open = new ArrayDeque<>(List.of(from));
    while (!open.isEmpty()) {
      ComponentKey at = open.poll();
      for (ComponentKey next : needs.containsKey(at) ? needs.get(at) : List.<ComponentKey>of()) {
        if (seen.add(next)) {
          cameFrom.put(next, at);
          open.add(next);
        }
      }
      if (cameFrom.containsKey(to)) {
        List<ComponentKey> path = new ArrayList<>(List.of(to));
        while (!path.get(0).equals(from)) {
          path.add(0, cameFrom.get(path.get(0)));
        }
        return path;
      }
    }
    return List.of();
  }
}
