package plenzo.connectors.host;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import plenzo.core.component.Kind;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Probe;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.hostprotocol.HostProtocol;

/** Speaks to application hosts that serve the host protocol. */
public final class HostConnector implements ItemsConnector {
  /** Documents that were read, by instance, name and revision: a revision never comes again. */
  private final Map<String, HostLooking.Known> known = new ConcurrentHashMap<>();

  @Override
  public String sort() {
    return "host";
  }

  @Override
  public Kind.Holder holder() {
    return Kind.Holder.HOST;
  }

  @Override
  public Set<Capability> capabilities() {
    return Set.of(Capability.UNDO, Capability.MAINTENANCE, Capability.ACTIVATION, Capability.PROBE);
  }

  @Override
  public List<Probe> test(Access access, Trial trial) {
    TargetIdentity expected = trial.expected();
    List<Probe> out = new ArrayList<>();
    HostProtocol.Identity identity;
    try {
      identity = new HostCalls(access).get("/identity", HostProtocol.Identity.class);
    } catch (TargetFailed e) {
      out.add(
          new Probe(
              "reachable",
              false,
              String.valueOf(e.getMessage()),
              "Start the host, or correct address and token"));
      return out;
    }
    out.add(new Probe("reachable", true, identity.product() + " answers", ""));
    boolean speaks = identity.protocol() == HostProtocol.VERSION;
    out.add(
        new Probe(
            "protocol",
            speaks,
            "It speaks version " + identity.protocol() + " of the host protocol",
            speaks ? "" : "This Plenzo speaks version " + HostProtocol.VERSION));
    if (expected != null) {
      TargetIdentity found = HostLooking.identity(identity.marker());
      boolean mine = found == null || expected.isMarkedAs(found);
      out.add(
          new Probe(
              "identity",
              mine,
              found == null
                  ? "It has no marker yet; adopting writes one"
                  : "This host says it is "
                      + found.shown()
                      + " since "
                      + found.since().toString().substring(0, 10),
              mine ? "" : "Wrong address, or a copy? Correct it"));
    }
    return out;
  }

  @Override
  public ItemsLooking look(Access access) {
    // a revision of a place of its own may come again at the host
    boolean space = access.options().containsKey(HostSpace.OPTION);
    return new HostLooking(new HostCalls(access), space ? new ConcurrentHashMap<>() : known);
  }

  @Override
  public Aside aside(Access changing, long rehearsal) {
    return new HostSpace(changing, HostSpace.REHEARSAL + rehearsal);
  }

  @Override
  public ItemsChanging change(Access access) {
    return new HostChanging(access);
  }

  @Override
  public String makeReady(Access access) {
    return "A host needs nothing.";
  }
}
