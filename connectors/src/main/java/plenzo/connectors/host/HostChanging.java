package plenzo.connectors.host;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.digest.Digest;
import plenzo.core.target.Access;
import plenzo.core.target.Delta;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.SwitchRefused.Why;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Outcome;

/**
 * Changes a host: everything is sent beforehand, and one call exchanges it. The host itself
 * compares at the switch and remembers every run, so that a call that got lost can be repeated.
 */
final class HostChanging implements ItemsChanging {
  private final Access access;
  private final HostCalls calls;

  HostChanging(Access access) {
    this.access = access;
    this.calls = new HostCalls(access);
  }

  @Override
  public void declare(TargetIdentity who, String lookingAccount) {
    Outcome o =
        calls.call(
            "PUT",
            "/marker",
            new HostProtocol.Marker(
                who.service(), who.stage(), who.site(), who.target(), who.since().toString()),
            Outcome.class);
    if (o.outcome().equals("refused")) {
      throw refused(o, "write who it is");
    }
  }

  /** The host itself refuses to prepare a second run while one is prepared. */
  @Override
  public void claim() {}

  @Override
  public void prepare(long run, Delta asked, Watch watch) {
    ItemsDelta delta = (ItemsDelta) asked;
    List<HostProtocol.Change> changes = new ArrayList<>();
    for (ItemsDelta.Change c : delta.changes()) {
      changes.add(
          new HostProtocol.Change(
              c.key().kind().code(), c.key().name(), c.seal(), document(delta, c), c.activate()));
    }
    List<HostProtocol.Input> inputs = new ArrayList<>();
    delta
        .bindings()
        .forEach((name, b) -> inputs.add(new HostProtocol.Input(name, b.value(), b.secret())));
    Outcome o =
        calls.call(
            "PUT", path(run, "prepared"), new HostProtocol.Prepare(changes, inputs), Outcome.class);
    if (o.outcome().equals("refused")) {
      throw refused(o, "prepare R-" + run);
    }
    watch.rows(changes.size());
  }

  private static @Nullable String document(ItemsDelta delta, ItemsDelta.Change c) {
    Digest incoming = c.incoming();
    if (incoming == null) {
      return null;
    }
    try (InputStream in = delta.source().open(c.key().kind(), incoming)) {
      byte[] bytes = in.readAllBytes();
      if (!ContentDigest.of(c.key().kind(), bytes).equals(incoming)) {
        throw new IllegalStateException("The content of " + c.key() + " is damaged");
      }
      return new String(bytes, StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("The content of " + c.key() + " cannot be read", e);
    }
  }

  private static String path(long run, String what) {
    return "/runs/" + run + "/" + what;
  }

  private static SwitchRefused refused(Outcome o, String what) {
    Why why =
        switch (String.valueOf(o.why())) {
          case "moved", "touched" -> Why.MOVED;
          case "busy" -> Why.LOCKED;
          default -> Why.REFUSED;
        };
    String sentence =
        switch (String.valueOf(o.why())) {
          case "moved" ->
              o.details().size() == 1
                  ? "A definition moved since the plan was made"
                  : o.details().size() + " definitions moved since the plan was made";
          case "touched" ->
              o.details().size() == 1
                  ? "A definition that the run wrote was changed since"
                  : o.details().size() + " definitions that the run wrote were changed since";
          case "busy" -> "The host is prepared for another run";
          default -> "The host refused to " + what + " (" + o.why() + ")";
        };
    return new SwitchRefused(why, sentence, o.details());
  }

  @Override
  public void switchOver(RunMark mark, Delta delta, Watch watch) {
    if (watch.abortAsked().getAsBoolean()) {
      throw new SwitchRefused(Why.ABORTED, "The run was aborted", List.of());
    }
    watch.beforeCommit();
    Outcome o =
        calls.call(
            "POST",
            path(mark.run(), "switch"),
            new HostProtocol.Switch(
                mark.version(),
                mark.fingerprint(),
                mark.person(),
                mark.anchor() == null ? null : mark.anchor().text()),
            Outcome.class);
    if (!o.outcome().equals("applied")) {
      throw refused(o, "switch R-" + mark.run());
    }
    if (another(o, mark)) {
      throw new SwitchRefused(
          Why.REFUSED,
          "The host remembers R-" + mark.run() + " of another plan: Plenzo's records are older",
          List.of());
    }
  }

  /** Whether what is remembered under the run's number is another plan's; hosts may not tell. */
  private static boolean another(Outcome o, RunMark mark) {
    return o.fingerprint() != null && !o.fingerprint().equals(mark.fingerprint());
  }

  @Override
  public Settled settle(RunMark mark, List<String> sessions) {
    Outcome o = calls.call("POST", path(mark.run(), "void"), null, Outcome.class);
    return switch (o.outcome()) {
      case "applied" -> another(o, mark) ? Settled.ANOTHER : Settled.APPLIED;
      case "void", "undone" -> another(o, mark) ? Settled.ANOTHER : Settled.VOID;
      default ->
          throw new TargetFailed(
              "The host cannot say what became of R-" + mark.run() + ": " + o.outcome(),
              false,
              new IllegalStateException(o.outcome()));
    };
  }

  @Override
  public void undo(RunMark mark) {
    Outcome o = calls.call("POST", path(mark.run(), "undo"), null, Outcome.class);
    if (!o.outcome().equals("undone") && !o.outcome().equals("void")) {
      throw refused(o, "switch R-" + mark.run() + " back");
    }
  }

  @Override
  public void discard(long run) {
    calls.call("DELETE", path(run, "prepared"), null, Outcome.class);
  }

  @Override
  public List<ComponentKey> restoreAside(
      long run, Map<ComponentKey, Digest> pieces, ItemsDelta.Source source, Runnable each) {
    HostSpace proof = proof(run);
    try {
      proof.empty();
      return proof.restored(pieces, source, each);
    } finally {
      proof.drop();
    }
  }

  @Override
  public void forgetAside(long run) {
    if (Boolean.TRUE.equals(calls.get("/identity", HostProtocol.Identity.class).spaces())) {
      proof(run).drop();
    }
  }

  @Override
  public void clear(Leftover leftover) {
    if (leftover.sort() == Leftover.Sort.PREPARED) {
      discard(leftover.run());
    } else {
      new HostSpace(access, leftover.name()).drop();
    }
  }

  private HostSpace proof(long run) {
    return new HostSpace(access, HostSpace.PROOF + run);
  }

  @Override
  public void maintenance(boolean on, long run, Doors doors, String notice) {
    calls.call(
        "PUT",
        "/maintenance",
        new HostProtocol.Maintenance(on, run, notice),
        HostProtocol.Maintenance.class);
  }

  @Override
  public void announce(String notice, @Nullable Instant at) {
    calls.call(
        "PUT",
        "/announcement",
        new HostProtocol.Announcement(notice, at == null ? null : at.toString()),
        HostProtocol.Announcement.class);
  }

  @Override
  public Refreshed refresh(long run) {
    HostProtocol.Refreshed said =
        calls.call("POST", "/refresh", new HostProtocol.Refresh(run), HostProtocol.Refreshed.class);
    return new Refreshed(said.done(), said.people());
  }

  @Override
  public void activation(ComponentKey key, boolean active) {
    calls.call(
        "PUT",
        "/activation",
        new HostProtocol.Activation(key.kind().code(), key.name(), active),
        HostProtocol.Activation.class);
  }

  @Override
  public String session() {
    return "";
  }

  @Override
  public void abort() {
    // a call is short; the run stops before the next one
  }

  @Override
  public void cut() {
    calls.cut();
  }

  @Override
  public void close() {}
}
