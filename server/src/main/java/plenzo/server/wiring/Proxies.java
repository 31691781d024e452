package plenzo.server.wiring;

import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.apache.catalina.valves.RemoteIpValve;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;
import plenzo.server.PlenzoSettings;

/**
 * Who asks and over what is believed of the proxies that are named, and of nobody else: a stranger
 * behind an unnamed one would lock everybody out, or choose an address for each try.
 */
@Component
class Proxies implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
  private final PlenzoSettings settings;

  Proxies(PlenzoSettings settings) {
    this.settings = settings;
  }

  @Override
  public void customize(TomcatServletWebServerFactory factory) {
    if (settings.proxies().isEmpty()) {
      return;
    }
    RemoteIpValve valve = new RemoteIpValve();
    valve.setInternalProxies(
        settings.proxies().stream().map(Pattern::quote).collect(Collectors.joining("|")));
    valve.setRemoteIpHeader("X-Forwarded-For");
    valve.setProtocolHeader("X-Forwarded-Proto");
    factory.addEngineValves(valve);
  }
}
