package plenzo.connectors.host;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;
import plenzo.core.target.TargetFailed;
import plenzo.hostprotocol.HostProtocol;

/** A place of its own at a host, which no user reaches; the host copies into it by itself. */
final class HostSpace implements Aside {
  /** Option of an access that leads into a place of that name. */
  static final String OPTION = "space";

  static final String PROOF = "proof-";
  static final String REHEARSAL = "rehearsal-";
  private static final Pattern NAME =
      Pattern.compile("(" + PROOF + "|" + REHEARSAL + ")([0-9]{1,18})");

  /** The only run of a place that is proven in. */
  private static final long RUN = 1;

  private final Access outside;
  private final String name;

  HostSpace(Access outside, String name) {
    this.outside = outside;
    this.name = name;
  }

  /** What a place is that a host tells; nothing where it is not Plenzo's. */
  static Optional<Leftover> leftover(String name) {
    Matcher m = NAME.matcher(name);
    return m.matches()
        ? Optional.of(
            new Leftover(
                m.group(1).equals(PROOF) ? Leftover.Sort.SCRATCH : Leftover.Sort.REHEARSAL,
                name,
                Long.parseLong(m.group(2)),
                /* bytes= */ null))
        : Optional.empty();
  }

  @Override
  public Access inside() {
    Map<String, String> options = new HashMap<>(outside.options());
    options.put(OPTION, name);
    return outside.with(options);
  }

  private void open(boolean empty) {
    new HostCalls(outside)
        .call("PUT", path(), new HostProtocol.Space(empty), HostProtocol.Outcome.class);
  }

  private String path() {
    return "/spaces/" + HostCalls.part(name);
  }

  void empty() {
    open(/* empty= */ true);
  }

  @Override
  public void fill(ItemsLooking from, Map<ComponentKey, Digest> pieces, Runnable each) {
    each.run();
    open(/* empty= */ false);
    Map<ComponentKey, Digest> there = seen(pieces);
    for (Map.Entry<ComponentKey, Digest> piece : pieces.entrySet()) {
      each.run();
      if (!piece.getValue().equals(there.get(piece.getKey()))) {
        throw new TargetFailed(
            piece.getKey() + " is not in the copy as it is at the host",
            /* notReachable= */ false,
            new IllegalStateException(name));
      }
    }
  }

  /** What is there of the name spaces of these components. */
  private Map<ComponentKey, Digest> seen(Map<ComponentKey, Digest> pieces) {
    Map<ComponentKey, Digest> out = new TreeMap<>();
    try (HostLooking look = new HostLooking(new HostCalls(inside()), new ConcurrentHashMap<>())) {
      for (String scope :
          pieces.keySet().stream()
              .map(k -> k.name().substring(0, Math.max(0, k.name().indexOf('.'))))
              .collect(Collectors.toSet())) {
        look.inventory(scope, (ItemSeen i) -> out.put(i.key(), i.content()));
      }
    }
    return out;
  }

  /** Writes components there as a switch does, and reads them again. */
  List<ComponentKey> restored(
      Map<ComponentKey, Digest> pieces, ItemsDelta.Source source, Runnable each) {
    List<ItemsDelta.Change> changes = new ArrayList<>();
    pieces.forEach((key, content) -> changes.add(ItemsDelta.Change.coming(key, content)));
    ItemsDelta delta = new ItemsDelta(changes, Map.of(), Map.of(), source);
    try (HostChanging session = new HostChanging(inside())) {
      each.run();
      session.prepare(RUN, delta, Changing.Watch.quiet(each));
      session.switchOver(
          new RunMark(RUN, "switch", 1, "", "proof", "", /* anchor= */ null),
          delta,
          Changing.Watch.quiet(each));
    }
    Map<ComponentKey, Digest> there = seen(pieces);
    return pieces.entrySet().stream()
        .filter(p -> !p.getValue().equals(there.get(p.getKey())))
        .map(Map.Entry::getKey)
        .toList();
  }

  @Override
  public void drop() {
    new HostCalls(outside).call("DELETE", path(), null, HostProtocol.Outcome.class);
  }
}
